import {
  costPerThousand,
  ratesOf,
  type CutoffRule,
  type ErrorCosts,
  type ErrorTable,
} from '@rook-scale/core/measures';
import { showCost, showCutoff, showDate, showPercent } from '../../browser/format.ts';
import type { CandidateLine } from '../../server/candidates.ts';
import type { HeldOutView } from '../../server/looks.ts';
import type { MarginNote } from '../margin/index.ts';
import styles from './HeldOut.module.css';

interface Seen {
  view: HeldOutView;
  line: CandidateLine;
  table: ErrorTable;
  costs: ErrorCosts;
  cutoff: number;
  chosen: number;
}

/** What is worth a remark about a held-out result. */
export function heldOutNotes({ view, line, table, costs, cutoff, chosen }: Seen): MarginNote[] {
  const notes: MarginNote[] = [];
  const rates = ratesOf(table);
  const { results } = line;
  if (results && cutoff === chosen)
    notes.push({
      id: 'promise',
      title: 'Promise and check',
      text: `${showCutoff(chosen)} ${ruleText(line.cutoffRule)} out of fold, with cost ${showCost(results.costPerThousand)} per 1,000 and sensitivity ${results.rates.sensitivity.value?.toFixed(2) ?? '–'}. Here it costs ${showCost(costPerThousand(table, costs))} and finds ${rates.sensitivity.value?.toFixed(2) ?? '–'}.`,
    });
  else
    notes.push({
      id: 'by-hand',
      title: 'The marker is not at the cutoff',
      text: 'A cutoff chosen by what the held-out patients show makes their figures a little too good. The rules at the lower right choose it out of fold.',
    });
  const { sensitivity } = rates;
  if (sensitivity.interval && line.family !== 'reference') {
    const width = sensitivity.interval[1] - sensitivity.interval[0];
    if (width > 0.1)
      notes.push({
        id: 'uncertain',
        title: 'Sensitivity is still uncertain',
        text: `${sensitivity.count} of ${sensitivity.total} cases: the interval is ${Math.round(100 * width)} points wide. About ${3 * sensitivity.total} more cases would halve it.`,
      });
  }
  const { accuracy, majorityBaseline } = rates;
  if (accuracy.value !== undefined && accuracy.value <= majorityBaseline.value!)
    notes.push({
      id: 'baseline',
      title: 'Read accuracy beside its baseline',
      text: `Calling nobody in would be right in ${showPercent(majorityBaseline.value!)} of these patients and find no case at all.`,
    });
  const count = view.looks.length;
  notes.push({
    id: 'looks',
    title: count === 1 ? 'First look at these patients' : `Look ${count} at these patients`,
    text: (
      <>
        {count > 1 && (
          <p>Each look that leads to a change makes these figures a little too good.</p>
        )}
        <ol className={styles.looks} reversed>
          {[...view.looks]
            .reverse()
            .slice(0, 6)
            .map((look, i) => (
              <li key={`${String(look.at)} ${i}`}>
                {showDate(look.at)}, {look.candidate}
              </li>
            ))}
        </ol>
        {count > 6 && <p>and {count - 6} before.</p>}
      </>
    ),
  });
  return notes;
}

function ruleText(rule: CutoffRule): string {
  if (rule.rule === 'cheapest') return 'was the cheapest cutoff';
  if (rule.rule === 'find') return `found at least ${showPercent(rule.share)} of the cases`;
  if (rule.rule === 'call') return `called in at most ${rule.perThousand} per 1,000`;
  return 'was put there by hand';
}
