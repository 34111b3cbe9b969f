import type { JobData } from '../../server/jobs/index.ts';

/** Fits in hand of this process, by kind. */
const inHand = { fit: 0, 'short fit': 0 };
let waiting: (() => void)[] = [];

/** Carries out a job; while it is a fit, searches give way. */
export async function fitsFirst<T>(kind: keyof JobData, work: () => Promise<T>): Promise<T> {
  if (!(kind in inHand)) return work();
  inHand[kind as keyof typeof inHand]++;
  try {
    return await work();
  } finally {
    inHand[kind as keyof typeof inHand]--;
    const all = waiting;
    waiting = [];
    for (const look of all) look();
  }
}

/**
 * Waits until this lane of a search may go on: not beside a short fit, which somebody waits for. Beside a long one
 * the first lane goes on, so that the search comes to its end too. Rejects when the search is called off.
 */
export async function giveWay(lane: number, signal: AbortSignal): Promise<void> {
  while (inHand['short fit'] > 0 || (inHand.fit > 0 && lane > 0)) {
    signal.throwIfAborted();
    await new Promise<void>((resolve) => {
      waiting.push(resolve);
      signal.addEventListener('abort', () => resolve(), { once: true });
    });
  }
  signal.throwIfAborted();
}
