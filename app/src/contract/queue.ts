import { route } from './route.ts';

/** A fit as the queue shows it. */
export interface QueuedFit {
  candidateId: string;
  candidate: string;
  studyId: string;
  study: string;
  state: 'waiting' | 'fitting' | 'fitted' | 'failed' | 'cancelled';
  partsDone: number;
  partsTotal: number;
  /** How much of the parts at work is done, in parts. */
  partsBegun: number;
  /** Milliseconds since its fit began. */
  elapsed: number | null;
  problem: string | null;
  endedAt: string | null;
}

/** A search at work, as the queue shows it. */
export interface QueuedSearch {
  searchId: string;
  search: string;
  studyId: string;
  study: string;
  state: 'waiting' | 'running';
  /** From 0 to 1. */
  progress: number;
}

export interface QueueView {
  /** Waiting and running fits of all studies in their order, then the last ones that ended. */
  fits: QueuedFit[];
  /** Waiting and running searches of all studies. */
  searches: QueuedSearch[];
  /** Worker processes seen within the last seconds. */
  workers: number;
}

export const queueRoutes = { view: route<QueueView>()('GET', '/api/queue') };
