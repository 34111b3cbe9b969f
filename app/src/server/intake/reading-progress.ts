import type { ReadingProgress } from '../../contract/uploads.ts';

const running = new Map<string, { rowsDone: number; rowsTotal: number; begun: number }>();

/** Undefined while nothing is read. Known to this process alone, which is the one that reads. */
export function readingProgress(uploadId: string): ReadingProgress | undefined {
  const found = running.get(uploadId);
  if (!found) return undefined;
  const { rowsDone, rowsTotal, begun } = found;
  return { rowsDone, rowsTotal, elapsed: Date.now() - begun };
}

/** Follows one reading: call `to` with the share that is done and `end` at the end, however it ends. */
export function followReading(uploadId: string, rowsTotal: number) {
  const state = { rowsDone: 0, rowsTotal, begun: Date.now() };
  running.set(uploadId, state);
  return {
    to: (share: number) => {
      state.rowsDone = Math.round(share * rowsTotal);
    },
    end: () => {
      if (running.get(uploadId) === state) running.delete(uploadId);
    },
  };
}
