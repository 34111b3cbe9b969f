import { pathToFileURL } from 'node:url';
import { Worker } from 'node:worker_threads';
import type { Dictionary } from '@rook-scale/core/table';
import type { Combination, Reading } from '../../contract/uploads.ts';
import { Problem } from '../ground/problem.ts';
import { readingMemory, readingTime } from './limits.ts';
import { tooSlow } from './problems.ts';
import type {
  Answer,
  Ask,
  ColumnsRead,
  KeptFileNamed,
  SheetNamed,
  Surveyed,
} from './reader-protocol.ts';

/** How a reading is followed, and stopped. */
export interface Following {
  signal?: AbortSignal;
  /** Called with the share of the reading that is done. */
  done?: (share: number) => void;
}

/** Threads that wait for a file; to start one takes a good part of a second. */
const spares: Worker[] = [];
const sparesAtMost = 2;

/** Has a thread ready before the first file comes. */
export function prepareReader(): void {
  if (spares.length === 0) spares.push(newThread());
}

function newThread(): Worker {
  const thread = new Worker(
    // Beside the folder of whichever program runs: web server and setup are built side by side.
    new URL('../worker/read-file.js', pathToFileURL(process.argv[1])),
    { resourceLimits: { maxOldGenerationSizeMb: readingMemory, maxYoungGenerationSizeMb: 64 } },
  );
  // A thread that only waits keeps no process alive.
  thread.unref();
  watch(thread);
  return thread;
}

/** One that ends while it waits is no spare any more, and its error nobody's. */
function watch(thread: Worker): void {
  thread.on('error', () => undefined);
  thread.on('exit', () => {
    const place = spares.indexOf(thread);
    if (place >= 0) spares.splice(place, 1);
  });
}

/** Pieces of a file that are on their way to the thread. */
const piecesAhead = 4;

/**
 * A thread that reads one file. Whatever the file is, the web server goes on answering: the thread
 * has a limit of memory and of time, and ends where it comes to it.
 */
export class Reader {
  /** Bytes of the cells it has kept; undefined when it kept none. */
  cellBytes: number | undefined;
  private readonly thread = spares.pop() ?? newThread();
  private hear: ((answer: Answer) => void) | undefined;
  private fail: ((error: unknown) => void) | undefined;
  private ended: Error | undefined;
  private readonly onMessage = (answer: Answer) => this.hear?.(answer);
  private readonly onError = (error: Error) => this.finish(causeOf(error));
  private readonly onExit = () => this.finish(endedEarly());

  constructor() {
    this.thread.on('message', this.onMessage);
    this.thread.on('error', this.onError);
    this.thread.on('exit', this.onExit);
    // The next file finds a thread that is ready.
    prepareReader();
  }

  /** Looks a file over. @param incoming its pieces where it is not kept yet */
  async survey(
    file: KeptFileNamed,
    wanted: Partial<Reading>,
    incoming?: AsyncIterable<Uint8Array>,
  ): Promise<Surveyed> {
    const asked: Ask = { ask: 'survey', file, wanted, incoming: incoming !== undefined };
    const answer = await this.ask(asked, file.size, {}, incoming);
    if (!('surveyed' in answer)) throw endedEarly();
    this.cellBytes = answer.cellBytes ?? undefined;
    return answer.surveyed;
  }

  /** Columns of the file just looked over. */
  async columns(dictionary: Dictionary, size: number, following: Following): Promise<ColumnsRead> {
    return columnsIn(await this.ask({ ask: 'columns', dictionary }, size, following));
  }

  /** Columns of a kept file. */
  async build(
    file: KeptFileNamed,
    reading: Reading,
    rows: number,
    dictionary: Dictionary,
    following: Following,
  ): Promise<ColumnsRead> {
    const asked: Ask = { ask: 'build', file, reading, rows, dictionary };
    return columnsIn(await this.ask(asked, file.size, following));
  }

  /** Puts two kept files together; the table is then there to be taken. */
  async combine(first: SheetNamed, second: SheetNamed, wanted: Combination) {
    const asked: Ask = { ask: 'combine', first, second, wanted };
    const answer = await this.ask(asked, first.size + second.size);
    if (!('remark' in answer)) throw endedEarly();
    return answer;
  }

  /** The table just put together, as CSV. */
  async *combined(size: number): AsyncGenerator<Uint8Array> {
    for (;;) {
      const answer = await this.ask({ ask: 'combined' }, size);
      if (!('piece' in answer)) throw endedEarly();
      if (!answer.piece) return;
      yield answer.piece;
    }
  }

  /** Whether it is there and has nothing to do. */
  rest(): boolean {
    return this.ended === undefined && this.hear === undefined;
  }

  /** Lets the thread go: to the next file where it is sound, for good where it is not. */
  end(): void {
    // These alone: the thread's own listeners keep its messages going.
    this.thread.off('message', this.onMessage).off('error', this.onError);
    this.thread.off('exit', this.onExit);
    if (!this.rest() || spares.length >= sparesAtMost) {
      this.finish(endedEarly());
      void this.thread.terminate();
      return;
    }
    this.ended = endedEarly();
    spares.push(this.thread);
  }

  private finish(error: Error): void {
    this.ended ??= error;
    this.fail?.(this.ended);
  }

  /** Asks one thing and waits for its answer, while pieces are handed over and words of progress heard. */
  private async ask(
    asked: Ask,
    size: number,
    { signal, done }: Following = {},
    incoming?: AsyncIterable<Uint8Array>,
  ): Promise<Answer> {
    if (this.ended) throw this.ended;
    const limit = new TimeLimit(() => {
      this.finish(tooSlow());
      this.end();
    });
    const stop = () => {
      this.finish(cancelled());
      this.end();
    };
    signal?.addEventListener('abort', stop);
    let took: (() => void) | undefined;
    let underWay = 0;
    try {
      const answered = new Promise<Answer>((resolve, reject) => {
        this.fail = reject;
        this.hear = (answer) => {
          if ('took' in answer) {
            underWay--;
            took?.();
          } else if ('done' in answer) done?.(answer.done);
          else resolve(answer);
        };
      });
      // A failure while pieces are awaited is heard when it is waited for.
      answered.catch(() => undefined);
      if (signal?.aborted) stop();
      this.thread.postMessage(asked);
      let over = false;
      void answered.finally(() => (over = true)).catch(() => undefined);
      let bytes = size;
      for await (const piece of incoming ?? []) {
        bytes += piece.length;
        if (over) continue;
        this.thread.postMessage({ ask: 'piece', bytes: piece } satisfies Ask);
        underWay++;
        limit.begin(bytes);
        while (underWay >= piecesAhead && !over)
          await Promise.race([new Promise<void>((resolve) => (took = resolve)), answered]).catch(
            () => undefined,
          );
        limit.pause();
      }
      if (incoming) this.thread.postMessage({ ask: 'piece', bytes: null } satisfies Ask);
      limit.begin(bytes);
      return thrown(await answered);
    } finally {
      limit.pause();
      signal?.removeEventListener('abort', stop);
      this.hear = undefined;
      this.fail = undefined;
    }
  }
}

/** Counts the time in which the thread is waited for, not that in which the file is. */
class TimeLimit {
  private spent = 0;
  private since = 0;
  private timer: NodeJS.Timeout | undefined;

  constructor(private readonly over: () => void) {}

  begin(bytes: number): void {
    this.pause();
    this.since = Date.now();
    this.timer = setTimeout(this.over, Math.max(1000, readingTime(bytes) - this.spent));
  }

  pause(): void {
    if (!this.timer) return;
    clearTimeout(this.timer);
    this.timer = undefined;
    this.spent += Date.now() - this.since;
  }
}

function thrown(answer: Answer): Answer {
  if ('away' in answer)
    throw Object.assign(new Error('Connection terminated'), { code: 'ECONNRESET' });
  if (!('problem' in answer)) return answer;
  const { status, code, sentence } = answer.problem;
  throw new Problem(status, code, sentence);
}

function columnsIn(answer: Answer): ColumnsRead {
  if (!('columns' in answer)) throw endedEarly();
  return answer.columns;
}

function causeOf(error: Error): Error {
  return (error as { code?: string }).code === 'ERR_WORKER_OUT_OF_MEMORY'
    ? new Problem(
        422,
        'too-much-memory',
        `Reading this file takes more than ${readingMemory / 1024} GB of memory, the most it may take. Bring the table in as CSV; nothing was stored.`,
      )
    : error;
}

const endedEarly = () =>
  new Problem(
    503,
    'reading-ended',
    'The reading of the file was broken off. Nothing was stored; bring it in again.',
  );

const cancelled = () => new Problem(409, 'cancelled', 'Cancelled. Nothing was stored.');
