import { isRule } from '@rook-scale/core/families';
import { calibratedCutoff, ratesOf, type CutoffRule } from '@rook-scale/core/measures';
import { repeatsOf, type Design } from '@rook-scale/core/design';
import { thinInputs } from '@rook-scale/core/preparation';
import type { CandidateDetail, CandidateLine } from '../../contract/candidates.ts';
import { plural, showCost, showCutoff } from '../../browser/format.ts';
import { showDigits, showFixed } from '../../browser/numbers.ts';
import { thinText } from '../design/index.ts';
import type { MarginNote } from '../margin/index.ts';
import { hasOwnCosts } from '../risk-scale/index.ts';

const titles = {
  separation: 'The outcome is separated',
  'separation in folds': 'Separated in some folds',
  'not converged': 'The fit has not settled',
  'one outcome': 'Only one outcome',
  'exact fit': 'The fit is exact',
  'left out': 'Inputs left out',
  'no inputs': 'Nothing to learn from',
  'no split': 'No question holds',
  'direction not kept': 'A direction is not kept',
  'too few in a level': 'Too few values in some levels',
  'rule gives nothing': 'The rule says nothing of some',
  balanced: 'Learned from balanced patients',
  'thresholds differ': 'One slope for all steps is too few',
} as const;

interface Acts {
  studyId: string;
  costs: Design;
  onRule: (rule: CutoffRule) => void;
}

/** What is worth a remark about the selected candidate. */
export function candidateNotes(
  line: CandidateLine | undefined,
  detail: CandidateDetail | undefined,
  { studyId, costs, onRule }: Acts,
): MarginNote[] {
  if (!line) return [];
  const predictors = `/studies/${studyId}/design#predictors`;
  const notes: MarginNote[] = (detail?.warnings ?? []).map(({ code, sentence }) => ({
    id: `${code} · ${line.id}`,
    title: titles[code],
    text: sentence,
    // A rule has no predictors to choose.
    ...(code !== 'rule gives nothing' && {
      acts: [{ label: 'Choose predictors', href: predictors }],
    }),
  }));
  const thin = detail ? thinInputs(detail.preparation) : [];
  if (thin.length > 0) {
    const labelOf = (column: string) => detail!.labels[column]?.label || column;
    notes.push({
      id: `thin · ${line.id}`,
      title: `${plural(thin.length, 'input')} pooled or left out`,
      text: `Too few patients stand behind them. ${thin
        .slice(0, 4)
        .map((one) => thinText(one, labelOf))
        .join(' ')}${thin.length > 4 ? ` And ${thin.length - 4} more.` : ''}`,
      acts: [{ label: 'See the preparation', href: `/studies/${studyId}/design#preparation` }],
    });
  }
  if (!line.results) return notes;
  const { area, cutoff } = line.results;
  const { accuracy, majorityBaseline } = ratesOf(line.results.table);
  const isNumber = line.outcome?.choice.kind === 'number';
  const byRule = isRule(line.family);
  if (
    !isNumber &&
    !byRule &&
    isDefaultCutoff(line.cutoffRule) &&
    !hasOwnCosts(costs) &&
    costs.missedCost !== costs.falseAlarmCost
  )
    notes.push({
      id: `cutoff 0.5 · ${line.id}`,
      title: 'A cutoff of 0.5 does not fit these costs',
      text: `A missed case costs ${showDigits(costs.missedCost / costs.falseAlarmCost, 3)} × a false alarm, so that a well-calibrated model should call in from ${showFixed(calibratedCutoff(costs), 2)}.`,
      acts: [{ label: 'Put it where it costs least', onClick: () => onRule({ rule: 'cheapest' }) }],
    });
  const { costPerThousand, costCrossFitted } = line.results;
  if (costCrossFitted !== undefined && costCrossFitted > (1 + optimism) * costPerThousand)
    notes.push({
      id: `cutoff optimism · ${line.id}`,
      title: 'The cost is optimistic',
      text: `The cutoff was chosen on the same out-of-fold predictions: ${showCost(costPerThousand)} per 1,000. With the cutoff of each fold chosen in the other folds the cost is ${showCost(costCrossFitted)} per 1,000: the fairer estimate for new patients.`,
    });
  if (area && line.apparentArea !== null && line.apparentArea - area.mean > 0.05)
    notes.push({
      id: `learned by heart · ${line.id}`,
      title: 'Much better where it was fitted',
      text: `AUC ${showFixed(line.apparentArea, 2)} in the training patients, ${showFixed(area.mean, 2)} out of fold: the model overfits. Expect the second of new patients.`,
      acts: [{ label: 'Choose fewer predictors', href: predictors }],
    });
  if (line.family !== 'reference' && !byRule && accuracy.value! < majorityBaseline.value!)
    notes.push({
      id: `accuracy · ${line.id}`,
      title: 'Accuracy below the baseline, on purpose',
      text: `Calling nobody in would be right in ${showFixed(majorityBaseline.value, 2)} of patients and find no case. At ${showCutoff(cutoff, line.outcome)} only ${showFixed(accuracy.value, 2)} are right, because a missed case costs more than a false alarm.`,
    });
  if (area && area.greatest - area.least > 0.1)
    notes.push({
      id: `folds · ${line.id}`,
      title: 'The folds disagree',
      text: `Their AUC runs from ${showFixed(area.least, 2)} to ${showFixed(area.greatest, 2)}: there are few cases in each fold, so small differences between candidates say little.`,
    });
  notes.push({
    id: 'out-of-fold',
    standing: true,
    title: 'What these figures are',
    text: `${byRule ? 'The rule is taken as it is on each development patient, the same ones that the models are judged on.' : 'Each development patient is predicted by a model that was fitted, preparation included, without the patient’s fold.'} ${repeatsOf(costs.folds) > 1 ? ` Patients were dealt into folds ${repeatsOf(costs.folds)} times: figures are means over the times, counts too.` : ''} The held-out patients play no part here.`,
  });
  return notes;
}

/** Share by which a cost may be too low before it is remarked on. */
const optimism = 0.02;

/** The customary cutoff: here only a hand can have put it there. */
function isDefaultCutoff(rule: CutoffRule): boolean {
  return rule.rule === 'hand' && rule.cutoff === 0.5;
}
