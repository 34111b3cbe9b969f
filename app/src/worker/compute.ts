import { parentPort } from 'node:worker_threads';
import type { Settings } from '@rook-scale/core/families';
import type { Outcome } from '@rook-scale/core/outcome';
import type { PredictorColumn } from '@rook-scale/core/preparation';
import { fitPart, type FitPart, type FitPartResult } from '@rook-scale/core/tuning';
import { measured, type Measured } from '@rook-scale/core/survey';
import { pickRows } from '@rook-scale/core/table';
import { sharedColumn, sharedFloats, sharedIntegers } from '../server/shared-arrays.ts';
import { carryOutShare, type SurveyShare } from './survey-task.ts';

/** One part of a fit for a thread; the typed arrays are in shared memory. */
export interface FitTask {
  part: FitPart;
  predictors: PredictorColumn[];
  outcome: Outcome;
  recipe: { family: string; settings: Settings; seed: number; reference?: string };
}

/** Columns whose rows are to be picked and graded. */
export interface MeasureTask {
  columns: Measured[];
  rows: Int32Array;
}

/** The tasks of a thread, and what each gives. */
export interface Computes {
  fit: [task: FitTask, result: FitPartResult];
  survey: [task: SurveyShare, result: unknown];
  measure: [task: MeasureTask, result: Measured[]];
}
export type ComputeTask = {
  [Kind in keyof Computes]: { kind: Kind; task: Computes[Kind][0] };
}[keyof Computes];
export type ComputeAnswer = { result: Computes[keyof Computes][1] } | { error: unknown };

parentPort?.on('message', (task: ComputeTask) => {
  let answer: ComputeAnswer;
  try {
    answer = { result: carryOut(task) };
  } catch (error) {
    answer = { error };
  }
  parentPort?.postMessage(answer);
});

function carryOut(wanted: ComputeTask): Computes[keyof Computes][1] {
  switch (wanted.kind) {
    case 'survey':
      return carryOutShare(wanted.task);
    case 'measure':
      return wanted.task.columns.map((column) => measure(column, wanted.task.rows));
    case 'fit': {
      const { part, predictors, outcome, recipe } = wanted.task;
      return fitPart(part, predictors, outcome, recipe);
    }
  }
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
