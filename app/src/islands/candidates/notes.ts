import type { CandidateDetail, CandidateLine } from '../../server/candidates.ts';
import type { MarginNote } from '../margin/index.ts';

const titles = {
  separation: 'The outcome is separated',
  'not converged': 'The fit has not settled',
  'left out': 'Inputs left out',
  'no inputs': 'Nothing to learn from',
} as const;

/** What is worth a remark about the selected candidate. */
export function candidateNotes(
  line: CandidateLine | undefined,
  detail: CandidateDetail | undefined,
): MarginNote[] {
  const notes: MarginNote[] = (detail?.warnings ?? []).map(({ code, sentence }) => ({
    id: code,
    title: titles[code],
    text: sentence,
  }));
  if (!line?.results) return notes;
  const { rates, area } = line.results;
  const { accuracy, majorityBaseline } = rates;
  if (line.family !== 'reference' && accuracy.value! < majorityBaseline.value!)
    notes.push({
      id: 'accuracy',
      title: 'Accuracy below the baseline, on purpose',
      text: `Calling nobody in would be right in ${majorityBaseline.value!.toFixed(2)} of patients and find no case. At this cutoff ${accuracy.value!.toFixed(2)} are right, because a missed case costs more than a false alarm.`,
    });
  if (area && area.greatest - area.least > 0.1)
    notes.push({
      id: 'folds',
      title: 'The folds disagree',
      text: `Their AUC runs from ${area.least.toFixed(2)} to ${area.greatest.toFixed(2)}: there are few events in each fold, so small differences between candidates say little.`,
    });
  notes.push({
    id: 'out-of-fold',
    title: 'What these figures are',
    text: 'Each development patient is predicted by a model that was fitted, preparation included, without the patient’s fold. The held-out patients play no part here.',
  });
  return notes;
}
