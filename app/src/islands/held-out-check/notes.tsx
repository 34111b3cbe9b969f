import {
  calibratedCutoff,
  costPerThousand,
  ratesOf,
  type CutoffRule,
  type ErrorTable,
} from '@rook-scale/core/measures';
import type { Design } from '@rook-scale/core/design';
import type { CandidateLine } from '../../contract/candidates.ts';
import type { HeldOutView } from '../../contract/looks.ts';
import {
  plural,
  showCost,
  showCount,
  showCutoff,
  showMoment,
  showPercent,
} from '../../browser/format.ts';
import { showFixed } from '../../browser/numbers.ts';
import type { MarginNote } from '../margin/index.ts';
import { commonCostsNote, hasOwnCosts, type Patients } from '../risk-scale/index.ts';
import styles from './HeldOut.module.css';

interface Seen {
  studyId: string;
  view: HeldOutView;
  line: CandidateLine;
  patients: Patients;
  table: ErrorTable;
  costs: Design;
  cutoff: number;
  chosen: number;
  onRule: (rule: CutoffRule) => void;
}

/** What is worth a remark about a held-out result. */
export function heldOutNotes(seen: Seen): MarginNote[] {
  const { studyId, view, line, patients, table, costs, cutoff, chosen, onRule } = seen;
  const notes: MarginNote[] = [];
  const rates = ratesOf(table);
  const { results } = line;
  if (results && cutoff === chosen)
    notes.push({
      id: 'promise',
      standing: true,
      title: 'Promise and check',
      text: `${showCutoff(chosen, line.outcome)} ${ruleText(line.cutoffRule)} out of fold, with cost ${showCost(results.costPerThousand)} per 1,000 and sensitivity ${showFixed(ratesOf(results.table).sensitivity.value, 2)}. Here it costs ${showCost(costPerThousand(patients.ranked, cutoff, costs))} and finds ${showFixed(rates.sensitivity.value, 2)}.`,
    });
  else
    notes.push({
      id: 'by-hand',
      standing: true,
      title: 'The marker is not at the cutoff',
      text: 'A cutoff chosen by what the held-out patients show makes their figures a little too good. The rules at the lower right choose it out of fold.',
    });
  if (
    line.cutoffRule.rule === 'hand' &&
    chosen === 0.5 &&
    !hasOwnCosts(costs) &&
    costs.missedCost !== costs.falseAlarmCost
  )
    notes.push({
      id: `cutoff 0.5 · ${line.id}`,
      title: 'A cutoff of 0.5 does not fit these costs',
      text: `A well-calibrated model should call in from ${showFixed(calibratedCutoff(costs), 2)}.`,
      acts: [{ label: 'Put it where it costs least', onClick: () => onRule({ rule: 'cheapest' }) }],
    });
  notes.push(...commonCostsNote(costs, patients, line));
  const { sensitivity } = rates;
  if (sensitivity.interval && line.family !== 'reference') {
    const width = sensitivity.interval[1] - sensitivity.interval[0];
    if (width > 0.1)
      notes.push({
        id: `uncertain sensitivity · ${line.id}`,
        title: 'Sensitivity is still uncertain',
        acts: [{ label: 'Hold out more', href: `/studies/${studyId}/design#held-out` }],
        text: `${sensitivity.count} of ${sensitivity.total} cases: the interval is ${Math.round(100 * width)} points wide. About ${3 * sensitivity.total} more cases would halve it.`,
      });
  }
  const { accuracy, majorityBaseline } = rates;
  if (accuracy.value !== undefined && accuracy.value <= majorityBaseline.value!)
    notes.push({
      id: `baseline · ${line.id}`,
      title: 'Read accuracy beside its baseline',
      text: `Calling nobody in would be right in ${showPercent(majorityBaseline.value!)} of these patients and find no case at all.`,
    });
  if (view.looks.length >= manyLooks)
    notes.push({
      id: `many looks · ${manyLooks * Math.floor(view.looks.length / manyLooks)}`,
      title: `Many looks: ${view.looks.length}`,
      text: 'By now the held-out patients have had a hand in choosing the model, and their figures are a little too good. Settle on a candidate out of fold, and look once more.',
      acts: [{ label: 'Compare out of fold', href: `/studies/${studyId}/candidates` }],
    });
  notes.push(...earlierNotes(view), looksNote(view));
  return notes;
}

/** From this many looks on, the held-out patients have begun to choose the model. */
const manyLooks = 5;

const isOfNow = ({ standing }: HeldOutView['looks'][number]) => standing?.isOfThisSplit !== false;

/** Looks at the held-out patients of an earlier split, and where those patients are now. */
function earlierNotes({ looks }: HeldOutView): MarginNote[] {
  const earlier = looks.filter((look) => !isOfNow(look));
  if (earlier.length === 0) return [];
  const most = (where: 'heldOut' | 'development') =>
    Math.max(...earlier.map(({ standing }) => standing![where]));
  const now = [
    `${plural(most('heldOut'), 'patient')} shown then ${most('heldOut') === 1 ? 'is' : 'are'} held out now`,
    `${showCount(most('development'))} ${most('development') === 1 ? 'is a development patient' : 'are development patients'}`,
  ];
  return [
    {
      id: `earlier split · ${earlier.length}`,
      title: `${plural(earlier.length, 'look')} at an earlier split`,
      text: `The split was changed since. ${now.join(', ')}. Figures of these held-out patients are no longer independent of what was seen.`,
    },
  ];
}

function looksNote({ looks: every, openings }: HeldOutView): MarginNote {
  const looks = every.filter(isOfNow);
  const count = looks.length;
  const all = [...looks].reverse();
  return {
    id: 'looks',
    standing: true,
    title: count === 1 ? 'First look at these patients' : `${count} looks at these patients`,
    text: (
      <>
        {count > 1 && (
          <p>Each look that leads to a change makes these figures a little too good.</p>
        )}
        <ol className={styles.looks} reversed>
          {all.slice(0, 4).map(whenAndWhat)}
        </ol>
        {count > 4 && (
          <details>
            <summary>Show all {count} looks</summary>
            <ol className={styles.looks} reversed start={count - 4}>
              {all.slice(4).map(whenAndWhat)}
            </ol>
          </details>
        )}
        {openings.length > every.length && (
          <details>
            <summary>Opened {openings.length} times in all</summary>
            <p>The same fit opened again on the same day is no new look.</p>
            <ul className={styles.looks}>{openings.map(whenAndWhat)}</ul>
          </details>
        )}
      </>
    ),
  };
}

const whenAndWhat = ({ at, candidate }: HeldOutView['looks'][number], i: number) => (
  <li key={`${at} ${i}`}>
    {showMoment(at)}, {candidate}
  </li>
);

function ruleText(rule: CutoffRule): string {
  if (rule.rule === 'cheapest') return 'was the cheapest cutoff';
  if (rule.rule === 'find') return `found at least ${showPercent(rule.share)} of the cases`;
  if (rule.rule === 'call') return `called in at most ${rule.perThousand} per 1,000`;
  return 'was put there by hand';
}
