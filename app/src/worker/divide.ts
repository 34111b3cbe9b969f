// A thread of the web server that divides one large cohort and ends, giving its memory back.
import { parentPort, workerData } from 'node:worker_threads';
import { divide, DesignError } from '@rook-scale/core/design';
import type { DivideAnswer, DivideTask } from '../server/designs/divide.ts';

parentPort?.postMessage(answer(workerData as DivideTask));

function answer({ table, design }: DivideTask): DivideAnswer {
  try {
    const { sides, folds, counts } = divide(table, design);
    return { divided: { sides, folds, counts } };
  } catch (error) {
    // Errors lose their class on the way between threads.
    return error instanceof DesignError ? { obstacle: error.message } : { error };
  }
}
