/** Cells of a cohort from which work on it takes hundreds of megabytes. */
const largeFrom = 5_000_000;

export const isLarge = (cells: number) => cells >= largeFrom;

let before: Promise<unknown> = Promise.resolve();

/**
 * Large work is done one after the other, so that the memory of a worker has a limit: a fit and a
 * survey of a million patients side by side would take twice as much.
 *
 * @param tidyUp lets go what the work has left in memory
 */
export async function oneLargeAtATime<T>(
  cells: number,
  work: () => Promise<T>,
  tidyUp: () => void,
): Promise<T> {
  if (!isLarge(cells)) return work();
  const mine = before.then(work);
  before = mine.then(tidyUp, tidyUp);
  return mine;
}
