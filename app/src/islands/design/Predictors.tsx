import { Asterisk } from 'lucide-react';
import { isAboutRows, canPredict, display } from '@rook-scale/core/table';
import { showPercent } from '../../browser/format.ts';
import { Button, Name } from '../../components/index.ts';
import type { SectionProps } from './DesignPage.tsx';
import styles from './Design.module.css';

/** The columns a model may use; those of a kind no model can use are not offered. */
export function Predictors({ cohort, design, change }: SectionProps) {
  const chosen = new Set(design.predictors);
  const offered = cohort.dictionary
    .map((entry, i) => ({
      entry,
      missing: cohort.summaries[i].missing / Math.max(1, cohort.rowCount),
    }))
    .filter(
      ({ entry }) => canPredict(entry.kind) && !isAboutRows(entry) && entry.name !== design.outcome,
    );
  const set = (names: Set<string>) =>
    change({
      predictors: offered.map(({ entry }) => entry.name).filter((name) => names.has(name)),
    });
  const toggle = (name: string) => {
    const next = new Set(chosen);
    if (!next.delete(name)) next.add(name);
    set(next);
  };
  const needed = new Set(design.needed);
  const need = (name: string) => {
    const next = new Set(needed);
    if (!next.delete(name)) next.add(name);
    change({ needed: design.predictors.filter((one) => next.has(one)) });
  };
  return (
    <section className={styles.section} id="predictors" aria-labelledby="predictors-head">
      <div className={styles.head}>
        <h2 id="predictors-head">Predictors</h2>
        <p className="quiet">
          {chosen.size} of {offered.length}
        </p>
        <Button look="link" onClick={() => set(new Set(offered.map(({ entry }) => entry.name)))}>
          all
        </Button>
        <Button look="link" onClick={() => set(new Set())}>
          none
        </Button>
      </div>
      <ul className={styles.predictors}>
        {offered.map(({ entry, missing }) => (
          <li key={entry.name}>
            <label title={entry.name}>
              <input
                type="checkbox"
                checked={chosen.has(entry.name)}
                onChange={() => toggle(entry.name)}
              />
              <span className={styles.predictor}>
                <Name text={display(entry)} title={entry.name} />
              </span>
              {missing > 0 && (
                <span className={styles.gaps} title="Share of patients in which it is not known">
                  {showPercent(missing)} gaps
                </span>
              )}
            </label>
            {chosen.has(entry.name) && (
              <button
                type="button"
                className={styles.needed}
                aria-pressed={needed.has(entry.name)}
                aria-label={`${display(entry)} must be known`}
                title="Must be known: nobody is scored without it"
                onClick={() => need(entry.name)}
              >
                <Asterisk size={13} aria-hidden="true" />
              </button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
