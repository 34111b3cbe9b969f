import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import type { FitPartResult } from '@rook-scale/core/tuning';
import type { SurveyTask } from '../server/surveys/index.ts';
import type { ComputeAnswer, ComputeResult, ComputeTask, FitTask } from './compute.ts';
import { putTogether, shareOut, type SurveyResult } from './survey-task.ts';

/** Errors lose their class on the way between threads, and anything can be thrown. */
const toError = (thrown: unknown) =>
  thrown instanceof Error ? thrown : new Error('A fit failed without saying why.');

/** Runs tasks on as many threads as the machine has cores; idle threads are kept for the next fit. */
export class ThreadPool {
  private readonly idle: Worker[] = [];
  private readonly busy = new Set<Worker>();
  private readonly script = new URL('./compute.js', import.meta.url);

  /**
   * Fits parts and calls `finished` with each result as it comes. Rejects with the first error, and
   * when `signal` is aborted; its threads at work are then ended at once.
   */
  async fit(
    tasks: FitTask[],
    finished: (result: FitPartResult) => Promise<void>,
    signal: AbortSignal,
  ): Promise<void> {
    const waiting = [...tasks];
    // What goes wrong in one lane ends the others of this fit, and only those.
    const end = new AbortController();
    const any = AbortSignal.any([signal, end.signal]);
    const lane = async () => {
      for (let fit = waiting.shift(); fit; fit = waiting.shift())
        await finished((await this.runOne({ fit }, any)) as FitPartResult);
    };
    try {
      await Promise.all(
        Array.from({ length: Math.min(tasks.length, availableParallelism()) }, lane),
      );
    } catch (error) {
      waiting.length = 0;
      end.abort();
      throw error;
    }
  }

  async survey(task: SurveyTask): Promise<SurveyResult> {
    const { signal } = new AbortController();
    const results = await Promise.all(
      shareOut(task, availableParallelism()).map((survey) => this.runOne({ survey }, signal)),
    );
    return putTogether(task, results as SurveyResult[]);
  }

  async close(): Promise<void> {
    await this.endBusy();
    await Promise.all(this.idle.splice(0).map((thread) => thread.terminate()));
  }

  private runOne(task: ComputeTask, signal: AbortSignal): Promise<ComputeResult> {
    const thread = this.idle.pop() ?? new Worker(this.script);
    this.busy.add(thread);
    return new Promise((resolve, reject) => {
      const finish = (settle: () => void, reusable: boolean) => {
        thread.off('message', answered).off('error', failed).off('exit', ended);
        signal.removeEventListener('abort', stop);
        this.busy.delete(thread);
        if (reusable) this.idle.push(thread);
        else void thread.terminate();
        settle();
      };
      const answered = (answer: ComputeAnswer) =>
        finish(
          () => ('result' in answer ? resolve(answer.result) : reject(toError(answer.error))),
          true,
        );
      const failed = (error: Error) => finish(() => reject(error), false);
      const ended = () => failed(new Error('A compute thread ended.'));
      const stop = () => failed(new Error('cancelled'));
      if (signal.aborted) {
        stop();
        return;
      }
      signal.addEventListener('abort', stop);
      thread.on('message', answered).on('error', failed).on('exit', ended);
      thread.postMessage(task);
    });
  }

  private async endBusy(): Promise<void> {
    const threads = [...this.busy];
    this.busy.clear();
    await Promise.all(threads.map((thread) => thread.terminate()));
  }
}
