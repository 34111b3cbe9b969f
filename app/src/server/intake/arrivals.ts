import { personAtHand } from '../ground/person.ts';
import { Problem } from '../ground/problem.ts';

/** Files that are received at once, of one browser and of all: each takes a thread with its memory. */
const most = { ofOne: 4, ofAll: 12 };
/** Milliseconds for which one more waits for a place. */
const patience = 10_000;

const receiving = new Map<string, number>();
let total = 0;
const waiting: (() => void)[] = [];

/**
 * Does the work while this browser has one of the places for files that are being received. A file that finds none
 * waits a little, and is refused where none becomes free.
 */
export async function withPlace<T>(work: () => Promise<T>): Promise<T> {
  const person = personAtHand() ?? '';
  const until = Date.now() + patience;
  while (!isFree(person)) {
    if (Date.now() >= until) throw tooMany(person);
    await nextLeaving(until);
  }
  receiving.set(person, (receiving.get(person) ?? 0) + 1);
  total++;
  try {
    return await work();
  } finally {
    const left = receiving.get(person)! - 1;
    if (left > 0) receiving.set(person, left);
    else receiving.delete(person);
    total--;
    for (const go of waiting.splice(0)) go();
  }
}

const isFree = (person: string) => total < most.ofAll && (receiving.get(person) ?? 0) < most.ofOne;

function nextLeaving(until: number): Promise<void> {
  return new Promise((resolve) => {
    waiting.push(resolve);
    setTimeout(resolve, Math.max(0, until - Date.now())).unref();
  });
}

const tooMany = (person: string) =>
  new Problem(
    429,
    'too-many-files',
    (receiving.get(person) ?? 0) >= most.ofOne
      ? `This browser is sending ${most.ofOne} files already. Nothing was stored; send this one when another has arrived.`
      : `The server is receiving ${most.ofAll} files already. Nothing was stored; try again in a minute.`,
  );

/** Least bytes a second, over this many milliseconds of waiting for them. */
const slowest = { rate: 1024, over: 20_000 };

/** The bytes of a body as they come; ends with a Problem where hardly any come. */
export class SteadyBody {
  bytes = 0;
  private waited = 0;
  private inWindow = 0;
  private isSlow = false;
  private readonly reader: ReadableStreamDefaultReader<Uint8Array>;

  constructor(body: ReadableStream<Uint8Array>) {
    this.reader = body.getReader();
  }

  async *content(): AsyncGenerator<Uint8Array> {
    for (let piece = await this.next(); piece; piece = await this.next()) yield piece;
  }

  /**
   * Takes in what is left, up to a limit, and drops it: an answer given while the browser is still sending would be
   * lost, and with it the sentence that says what is wrong with the file.
   */
  async drain(limit: number): Promise<void> {
    while (!this.isSlow && this.bytes <= limit)
      if (!(await this.next().catch(() => undefined))) return;
    // Whoever sends hardly anything gets the answer as it is; the connection ends by itself.
    if (!this.isSlow) await this.reader.cancel();
  }

  /** Waiting for bytes counts, what is done with them does not. */
  private async next(): Promise<Uint8Array | undefined> {
    const begun = Date.now();
    const { done, value } = await this.inTime();
    if (done) return undefined;
    this.waited += Date.now() - begun;
    this.inWindow += value.length;
    this.bytes += value.length;
    if (this.waited >= slowest.over) {
      if (this.inWindow < (slowest.rate * slowest.over) / 1000) throw this.tooSlow();
      this.waited = 0;
      this.inWindow = 0;
    }
    return value;
  }

  private async inTime(): Promise<ReadableStreamReadResult<Uint8Array>> {
    let timer: NodeJS.Timeout | undefined;
    const late = new Promise<never>((_, refuse) => {
      timer = setTimeout(() => refuse(this.tooSlow()), slowest.over);
    });
    try {
      return await Promise.race([this.reader.read(), late]);
    } finally {
      clearTimeout(timer);
    }
  }

  private tooSlow(): Problem {
    this.isSlow = true;
    return new Problem(
      408,
      'too-slow',
      'The file comes in too slowly: less than 1 kB a second for 20 seconds. Nothing was stored; send it again over a better connection.',
    );
  }
}
