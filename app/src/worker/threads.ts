import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import type { Measured } from '@rook-scale/core/survey';
import type { FitPartResult } from '@rook-scale/core/tuning';
import type { SurveyTask } from '../server/surveys/index.ts';
import type { ComputeAnswer, Computes, FitTask } from './compute.ts';
import { putTogether, shareOut, type SurveyResult } from './survey-task.ts';

/** Errors lose their class on the way between threads, and anything can be thrown. */
const toError = (thrown: unknown) =>
  thrown instanceof Error ? thrown : new Error('A fit failed without saying why.');

/** Threads kept for the next task; more come and go when much is asked for at once. */
const idleAtMost = 2 * availableParallelism();

/** Milliseconds after which a thread that has nothing to do ends, and gives its memory back. */
const idleFor = 30_000;

/** Runs tasks on as many threads as the machine has cores; idle threads are kept for the next fit. */
export class ThreadPool {
  private readonly idle: Worker[] = [];
  private readonly ending = new WeakMap<Worker, NodeJS.Timeout>();
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
    await this.inLanes('fit', tasks, finished, signal);
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
    return this.runOne('measure', { columns, rows }, new AbortController().signal);
  }

  /** Ends the threads that have nothing to do, which gives their memory back. */
  endIdle(): void {
    for (const thread of this.idle.splice(0)) void thread.terminate();
  }

  async close(): Promise<void> {
    await this.endBusy();
    await Promise.all(this.idle.splice(0).map((thread) => thread.terminate()));
  }

  /** Runs tasks side by side, as many as there are cores, and hands on each result as it comes. */
  private async inLanes<Kind extends keyof Computes>(
    kind: Kind,
    tasks: Computes[Kind][0][],
    finished: (result: Computes[Kind][1], place: number) => Promise<void> | void,
    signal?: AbortSignal,
  ): Promise<void> {
    const waiting = [...tasks.entries()];
    // What goes wrong in one lane ends the others of these tasks, and only those.
    const end = new AbortController();
    const any = signal ? AbortSignal.any([signal, end.signal]) : end.signal;
    const lane = async () => {
      for (let next = waiting.shift(); next; next = waiting.shift()) {
        const [place, task] = next;
        await finished(await this.runOne(kind, task, any), place);
      }
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

  private runOne<Kind extends keyof Computes>(
    kind: Kind,
    task: Computes[Kind][0],
    signal: AbortSignal,
  ): Promise<Computes[Kind][1]> {
    const thread = this.wake() ?? new Worker(this.script);
    this.busy.add(thread);
    return new Promise((resolve, reject) => {
      const finish = (settle: () => void, reusable: boolean) => {
        thread.off('message', answered).off('error', failed).off('exit', ended);
        signal.removeEventListener('abort', stop);
        this.busy.delete(thread);
        if (reusable && this.idle.length < idleAtMost) this.rest(thread);
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
      thread.postMessage({ kind, task });
    });
  }

  private rest(thread: Worker): void {
    this.idle.push(thread);
    const ending = setTimeout(() => {
      const place = this.idle.indexOf(thread);
      if (place < 0) return;
      this.idle.splice(place, 1);
      void thread.terminate();
    }, idleFor).unref();
    this.ending.set(thread, ending);
  }

  private wake(): Worker | undefined {
    const thread = this.idle.pop();
    if (thread) clearTimeout(this.ending.get(thread));
    return thread;
  }

  private async endBusy(): Promise<void> {
    const threads = [...this.busy];
    this.busy.clear();
    await Promise.all(threads.map((thread) => thread.terminate()));
  }
}
