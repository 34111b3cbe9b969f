// The program of the worker's threads.
import type { LossCurve, Settings } from '@rook-scale/core/families';
import type { Outcome } from '@rook-scale/core/outcome';
import type { FittedPreparation, PredictorColumn } from '@rook-scale/core/preparation';
import { fitPart, type FitPart, type FitPartResult } from '@rook-scale/core/tuning';
import { permutePart, type Permuted, type PermuteTask } from '@rook-scale/core/reasons';
import { measured, type Measured } from '@rook-scale/core/survey';
import { pickRows } from '@rook-scale/core/table';
import { sharedColumn, sharedFloats, sharedIntegers } from '../server/shared-arrays.ts';
import { judgeTrials, type KeptTask } from '../server/searches/work.ts';
import { serve } from '../server/threads/index.ts';
import { tryPieces, type TriedPiece, type TryTask } from './jobs/search/try-pieces.ts';
import { carryOutShare, type SurveyShare } from './jobs/survey/shares.ts';

/** One part of a fit for a thread; the typed arrays are in shared memory. */
export interface FitTask {
  part: FitPart;
  predictors: PredictorColumn[];
  outcome: Outcome;
  recipe: { family: string; settings: Settings; seed: number; reference?: string };
  /** The preparation, where another candidate has learned the same. */
  known?: FittedPreparation;
  /** In shared memory: how much of the part is done, 0 to 1. */
  done?: Float64Array;
}

/** Columns whose rows are to be picked and graded. */
export interface MeasureTask {
  columns: Measured[];
  rows: Int32Array;
}

/** The tasks of a thread, and what each gives. */
export interface Computes {
  fit: { task: FitTask; result: FitPartResult; news: LossCurve };
  survey: { task: SurveyShare; result: unknown };
  measure: { task: MeasureTask; result: Measured[] };
  permute: { task: PermuteTask; result: Permuted };
  try: { task: TryTask; result: TriedPiece[] };
  judge: { task: KeptTask; result: ReturnType<typeof judgeTrials> };
}

serve<Computes>({
  fit: ({ part, predictors, outcome, recipe, known, done }, tell) =>
    fitPart(part, predictors, outcome, recipe, known, {
      progress: (share) => {
        if (done) done[0] = share;
      },
      // How the model itself learns is followed, not how each fold does.
      ...(part.name === 'all' && { learning: nowAndThen(tell) }),
    }),
  survey: carryOutShare,
  measure: ({ columns, rows }) => columns.map((column) => measure(column, rows)),
  permute: permutePart,
  try: tryPieces,
  judge: judgeTrials,
});

/** Milliseconds between two pieces of news of the same work. */
const newsEvery = 400;

function nowAndThen<News>(tell: (news: News) => void): (soFar: () => News) => void {
  let last = performance.now();
  return (soFar) => {
    if (performance.now() - last < newsEvery) return;
    tell(soFar());
    last = performance.now();
  };
}

function measure({ name, kind, column }: Measured, rows: Int32Array): Measured {
  const { grades, ...plain } = measured(name, kind, sharedColumn(pickRows(column, rows)));
  if (!grades) return plain;
  const { values, codes, counts, unknown } = grades;
  return {
    ...plain,
    grades: {
      values: sharedFloats(values),
      // Of levels the grades are the codes, which are shared already.
      codes: codes.buffer instanceof SharedArrayBuffer ? codes : sharedIntegers(codes),
      counts: sharedFloats(counts),
      unknown: sharedIntegers(unknown),
    },
  };
}
