import type { Design } from '@rook-scale/core/design';
import { display, type DictionaryEntry } from '@rook-scale/core/table';
import { plural, showCount } from '../../browser/format.ts';
import type { DesignState } from '../../server/design-state.ts';
import type { MarginNote } from '../margin/index.ts';

/** What is worth a remark about a design. */
export function designNotes(
  { counts, questions }: DesignState,
  design: Design,
  outcome: DictionaryEntry | undefined,
): MarginNote[] {
  const notes: MarginNote[] = questions.map((text) => ({
    id: text,
    title: 'Still to choose',
    text,
  }));
  if (!counts || !outcome) return notes;
  const { development, heldOut, unused } = counts;
  const perPredictor = development.events / Math.max(1, design.predictors.length);
  if (perPredictor < 10)
    notes.push({
      id: 'few-events',
      title: 'Few events per predictor',
      text: `${showCount(development.events)} development patients have the event, for ${plural(design.predictors.length, 'predictor')}: ${perPredictor.toFixed(1)} each. Under 10 the coefficients become unsteady (common practice).`,
    });
  if (heldOut.events < 50)
    notes.push({
      id: 'few-held-out',
      title: 'Few held-out events',
      text: `${showCount(heldOut.events)} held-out patients have the event. Sensitivity will come with an interval about ${Math.round(200 * 1.96 * Math.sqrt(0.16 / Math.max(1, heldOut.events)))} points wide at 80%.`,
    });
  if (unused > 0)
    notes.push({
      id: 'unused',
      title: 'Outcome not known',
      text: `${plural(unused, 'patient')} without a known ${display(outcome)} are on neither side.`,
    });
  notes.push({
    id: 'split',
    title: 'How patients are divided',
    text: `By outcome, with seed ${design.seed}: in each level the held-out share is exact to one patient. Rows with the same identifier stay together, and the order of the file plays no part.`,
  });
  return notes;
}
