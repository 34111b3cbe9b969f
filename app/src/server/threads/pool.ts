import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import { passedOn, type Passed } from './pass-on.ts';

/** What threads can be asked for: by kind, the task and what it gives. */
export type Works<Kinds> = {
  [Kind in keyof Kinds]: { task: unknown; result: unknown; news?: unknown };
};

export interface Wanted<Kinds> {
  kind: keyof Kinds;
  task: unknown;
}
/** What a thread says: news while it is at work, and then how it ended. */
export type Answer = { news: unknown } | { result: unknown } | { error: Passed };

/** Threads kept for the next task; more come and go when much is asked for at once. */
const idleAtMost = 2 * availableParallelism();

/** Milliseconds after which a thread that has nothing to do ends, and gives its memory back. */
const idleFor = 30_000;

/** Threads that run one program (see `serve`) and are kept for a while for the next task. */
export class Pool<Kinds extends Works<Kinds>> {
  private readonly idle: Worker[] = [];
  private readonly ending = new WeakMap<Worker, NodeJS.Timeout>();
  private readonly busy = new Set<Worker>();

  constructor(private readonly script: () => URL) {}

  /**
   * Runs tasks side by side, as many as there are cores, and hands on each result as it comes.
   *
   * @param heard told what a thread says of its task while it is at work
   */
  async inLanes<Kind extends keyof Kinds>(
    kind: Kind,
    tasks: Kinds[Kind]['task'][],
    finished: (result: Kinds[Kind]['result'], place: number) => Promise<void> | void,
    signal?: AbortSignal,
    heard?: (news: Kinds[Kind]['news'], place: number) => void,
  ): Promise<void> {
    const waiting = [...tasks.entries()];
    // What goes wrong in one lane ends the others of these tasks, and only those.
    const end = new AbortController();
    const any = signal ? AbortSignal.any([signal, end.signal]) : end.signal;
    const lane = async () => {
      for (let next = waiting.shift(); next; next = waiting.shift()) {
        const [place, task] = next;
        const hear = heard && ((news: Kinds[Kind]['news']) => heard(news, place));
        await finished(await this.run(kind, task, any, hear), place);
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

  /** One task on one thread; when `signal` is aborted the thread is ended at once. */
  run<Kind extends keyof Kinds>(
    kind: Kind,
    task: Kinds[Kind]['task'],
    signal?: AbortSignal,
    heard?: (news: Kinds[Kind]['news']) => void,
  ): Promise<Kinds[Kind]['result']> {
    const thread = this.wake() ?? new Worker(this.script());
    this.busy.add(thread);
    return new Promise((resolve, reject) => {
      const finish = (settle: () => void, reusable: boolean) => {
        thread.off('message', answered).off('error', failed).off('exit', ended);
        signal?.removeEventListener('abort', stop);
        this.busy.delete(thread);
        if (reusable && this.idle.length < idleAtMost) this.rest(thread);
        else void thread.terminate();
        settle();
      };
      const answered = (answer: Answer) => {
        if ('news' in answer) heard?.(answer.news);
        else
          finish(
            () => ('result' in answer ? resolve(answer.result) : reject(passedOn(answer.error))),
            true,
          );
      };
      const failed = (error: Error) => finish(() => reject(error), false);
      const ended = () => failed(new Error('A compute thread ended.'));
      const stop = () => failed(new Error('cancelled'));
      if (signal?.aborted) {
        stop();
        return;
      }
      signal?.addEventListener('abort', stop);
      thread.on('message', answered).on('error', failed).on('exit', ended);
      thread.postMessage({ kind, task } satisfies Wanted<Kinds>);
    });
  }

  /** Ends the threads that have nothing to do, which gives their memory back. */
  endIdle(): void {
    for (const thread of this.idle.splice(0)) void thread.terminate();
  }

  async close(): Promise<void> {
    const threads = [...this.busy, ...this.idle.splice(0)];
    this.busy.clear();
    await Promise.all(threads.map((thread) => thread.terminate()));
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
}
