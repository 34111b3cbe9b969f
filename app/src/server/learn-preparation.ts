import { findOutcome, type Design } from '@rook-scale/core/design';
import { takeOutcome } from '@rook-scale/core/outcome';
import {
  choosePredictors,
  fitPreparation,
  traceStep,
  withUsual,
  type FittedPreparation,
  type StepTrace,
} from '@rook-scale/core/preparation';
import type { Table } from '@rook-scale/core/table';

export interface PrepareTask {
  table: Table;
  design: Design;
  /** The development patients. */
  rows: Int32Array;
}

/** What the preparation learns from these patients. */
export function learnPreparation(task: PrepareTask): FittedPreparation {
  const { preparation } = fitPreparation(...given(task));
  // What single patients lend stays with the server and the model.
  const steps = preparation.steps.map((step) =>
    step.step === 'fill' && step.learned.nearest
      ? { ...step, learned: { ...step.learned, nearest: { ...step.learned.nearest, donors: [] } } }
      : step,
  );
  return { ...preparation, steps };
}

/** What one step does. */
export function traceOf({
  asked,
  ...task
}: PrepareTask & { asked: Parameters<typeof traceStep>[4] }): StepTrace {
  return traceStep(...given(task), asked);
}

const given = ({ table, design, rows }: PrepareTask) =>
  [
    choosePredictors(table, design.predictors),
    rows,
    takeOutcome(findOutcome(table, design), rows),
    withUsual(design.preparation),
  ] as const;
