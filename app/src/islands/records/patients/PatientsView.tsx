import { Trash2 } from 'lucide-react';
import { useState } from 'react';
import { everybody, type Selection } from '@rook-scale/core/selection';
import type { CohortInfo } from '../../../contract/cohorts.ts';
import type { DesignState } from '../../../contract/designs.ts';
import { mendSelection } from '../../../browser/edits.ts';
import { plural, showCount } from '../../../browser/format.ts';
import { Button, Select } from '../../../components/index.ts';
import { ExcludeForm } from './ExcludeForm.tsx';
import { FlowDiagram } from './FlowDiagram.tsx';
import styles from './Patients.module.css';

type Rule = 'all' | `${'identifier' | 'all values'} ${'first' | 'last' | 'none'}`;

/** Who of the file is a patient of the study: duplicates, exclusions, and the flow that they make. */
export function PatientsView({
  cohort,
  design,
}: {
  cohort: CohortInfo;
  design: DesignState | null;
}) {
  const { selection, flow } = cohort;
  const [saving, setSaving] = useState(false);
  const change = async (to: (selection: Selection) => Selection, done: string) => {
    setSaving(true);
    try {
      return await mendSelection(cohort, to, done);
    } finally {
      setSaving(false);
    }
  };
  const { duplicates, exclusions } = selection;
  const rule: Rule = duplicates ? `${duplicates.by} ${duplicates.keep}` : 'all';
  const identifier = cohort.dictionary.some(({ role }) => role === 'identifier');
  const setRule = (next: Rule) => {
    const [by, keep] = next === 'all' ? [] : splitRule(next);
    void change(
      (now) => ({ ...now, duplicates: by && keep ? { by, keep } : null }),
      by ? 'Duplicates taken out' : 'Every row kept',
    );
  };
  return (
    <div className={styles.page} aria-busy={saving}>
      <FlowDiagram flow={flow} name={cohort.file.name} counts={design?.counts ?? null} />
      <div className={styles.rules}>
        <section>
          <h2>The same patient twice</h2>
          <Select
            label="Of their rows"
            value={rule}
            options={rules.filter(({ value }) => identifier || !value.startsWith('identifier'))}
            onChange={setRule}
          />
        </section>
        <section>
          <h2>Excluded</h2>
          {exclusions.length === 0 ? (
            <p className="quiet">Nobody is excluded by a condition.</p>
          ) : (
            <ol className={styles.list}>
              {exclusions.map((one, i) => (
                <li key={`${one.condition} ${one.reason}`}>
                  <span>
                    <strong>{one.reason}</strong>{' '}
                    <span className="quiet">
                      {plural(flow.steps[i + (duplicates ? 1 : 0)]?.out ?? 0, 'patient')}
                    </span>
                    <code>{one.condition}</code>
                  </span>
                  <button
                    type="button"
                    aria-label={`Take them in again: ${one.reason}`}
                    title="Take them in again"
                    disabled={saving}
                    onClick={() =>
                      void change(
                        (now) => ({ ...now, exclusions: without(now.exclusions, one) }),
                        `No longer excluded: ${one.reason}`,
                      )
                    }
                  >
                    <Trash2 size={14} aria-hidden="true" />
                  </button>
                </li>
              ))}
            </ol>
          )}
        </section>
        <section>
          <h2>Exclude patients</h2>
          <ExcludeForm
            cohort={cohort}
            saving={saving}
            onExclude={(condition, reason) =>
              change(
                (now) => ({ ...now, exclusions: [...now.exclusions, { condition, reason }] }),
                `Excluded: ${reason}`,
              )
            }
          />
        </section>
        {(duplicates ?? exclusions.length > 0) && (
          <p>
            <Button
              look="link"
              disabled={saving}
              onClick={() => void change(() => everybody, `All ${showCount(flow.came)} rows kept`)}
            >
              Take every row of the file
            </Button>
          </p>
        )}
      </div>
    </div>
  );
}

const rules: { value: Rule; label: string }[] = [
  { value: 'all', label: 'all are kept' },
  { value: 'identifier first', label: 'by identifier, keep the first' },
  { value: 'identifier last', label: 'by identifier, keep the last' },
  { value: 'identifier none', label: 'by identifier, keep none' },
  { value: 'all values first', label: 'alike in all values, keep the first' },
  { value: 'all values last', label: 'alike in all values, keep the last' },
  { value: 'all values none', label: 'alike in all values, keep none' },
];

function splitRule(rule: Exclude<Rule, 'all'>) {
  const keep = rule.slice(rule.lastIndexOf(' ') + 1) as 'first' | 'last' | 'none';
  const by = rule.slice(0, rule.lastIndexOf(' ')) as 'identifier' | 'all values';
  return [by, keep] as const;
}

type Exclusions = Selection['exclusions'];

function without(exclusions: Exclusions, gone: Exclusions[number]): Exclusions {
  const place = exclusions.findIndex(
    ({ condition, reason }) => condition === gone.condition && reason === gone.reason,
  );
  return exclusions.filter((_, i) => i !== place);
}
