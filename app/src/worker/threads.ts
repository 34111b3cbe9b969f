import { availableParallelism } from 'node:os';
import type { LossCurve } from '@rook-scale/core/families';
import type { Measured } from '@rook-scale/core/survey';
import type { FitPartResult } from '@rook-scale/core/tuning';
import type { SurveyTask } from '../server/surveys/index.ts';
import { Pool } from '../server/threads/index.ts';
import type { Computes, FitTask } from './compute.ts';
import { putTogether, shareOut, type SurveyResult } from './jobs/survey/shares.ts';

/** The worker's threads, and how its work is shared out over them. */
export class WorkerThreads extends Pool<Computes> {
  constructor() {
    super(() => new URL('./compute.js', import.meta.url));
  }

  /**
   * Fits parts and calls `finished` with each result as it comes. Rejects with the first error, and
   * when `signal` is aborted; its threads at work are then ended at once.
   *
   * @param learning told now and then how the loss falls, where a part can say so
   */
  async fit(
    tasks: FitTask[],
    finished: (result: FitPartResult) => Promise<void>,
    signal: AbortSignal,
    learning?: (curve: LossCurve) => void,
  ): Promise<void> {
    await this.inLanes('fit', tasks, finished, signal, learning);
  }

  /** Works out a part of the survey, shared out where it is long. */
  async survey(task: SurveyTask): Promise<SurveyResult> {
    const shares = shareOut(task, availableParallelism());
    const results = new Array<unknown>(shares.length);
    await this.inLanes('survey', shares, (result, i) => {
      results[i] = result;
    });
    return putTogether(task, results);
  }

  /** Picks and grades columns; see `MeasureColumns`. */
  measure(columns: Measured[], rows: Int32Array): Promise<Measured[]> {
    return this.run('measure', { columns, rows });
  }
}
