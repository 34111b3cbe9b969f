export { compare, type Compare, type Compared, type ComparedMeasure } from './compare.ts';
export { correctedMean, type CorrectedMean } from './corrected-t.ts';
export { curvesOf, type Curves, type CurvesTask } from './curves.ts';
export {
  differing,
  mostListed,
  type Calls,
  type Differing,
  type DifferingPatient,
  type DifferingTask,
} from './differing.ts';
export { whoWasWrong, type Wrong, type WrongPatient, type WrongTask } from './wrong.ts';
export type { Apart } from './apart.ts';
export { holm } from './holm.ts';
export { mcNemar } from './mc-nemar.ts';
export { pairedAreas, type PairedAreas } from './paired-areas.ts';
export { redraw, type MeanDifference, type Redrawn } from './redrawn.ts';
