import type { JobData } from '../../server/jobs/index.ts';
import type { WorkerThreads } from '../threads.ts';

/** A kind of long work, as a worker carries it out. */
export interface JobKind<Kind extends keyof JobData = keyof JobData> {
  kind: Kind;
  /** Jobs of it that one process carries out side by side. */
  sideBySide: number;
  /**
   * Takes a job into this process's hands. Nothing where there is nothing to do any more, or another
   * process is at it: asking twice for the same is harmless.
   */
  take(data: JobData[Kind], threads: WorkerThreads): Promise<Work | undefined>;
  /** Asks again for what was asked for and nobody works at; `mine` says what this process is at. */
  takeUp?(mine: (id: string) => boolean): Promise<void>;
}

/** A job in this process's hands. */
export interface Work {
  /** Under which it can be called off. */
  id: string;
  /** How many cells of a table it is about: large work is done one after the other. */
  cells: number;
  /** What it throws is logged; with `again` it is also tried again a little later. */
  carryOut(signal: AbortSignal): Promise<void>;
  again?(error: unknown): boolean;
  /** A sign of life, given every few seconds. */
  alive?(): Promise<void>;
  /** Gives it back where the process stops, for another to go on with. */
  giveBack?(): Promise<void>;
}
