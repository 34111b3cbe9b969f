import type { FitTask } from '../../compute.ts';

/** Milliseconds after which it is told again how far a fit is. */
const every = 500;

/** Where one part counts how far it is: in shared memory, which costs its thread nothing. */
export const counter = (): Float64Array =>
  new Float64Array(new SharedArrayBuffer(Float64Array.BYTES_PER_ELEMENT));

/** How much of the parts at work is done, in parts. */
export const partsBegun = (tasks: FitTask[]): number =>
  tasks.reduce((sum, { done }) => sum + (done?.[0] ?? 0), 0);

/** The part is whole, and no longer counted as begun. */
export function endPart(tasks: FitTask[], name: string): void {
  tasks.find(({ part }) => part.name === name)?.done?.fill(0);
}

/**
 * Tells twice a second how far the parts at work are, unless nothing that can be seen was done meanwhile.
 *
 * @param tell waited for before it is told again; what goes wrong there is told by whatever else is written
 * @returns ends it
 */
export function tellProgress(tasks: FitTask[], tell: (parts: number) => Promise<void>): () => void {
  let before = 0;
  let busy = false;
  const timer = setInterval(() => {
    const parts = partsBegun(tasks);
    if (busy || Math.abs(parts - before) < 0.01) return;
    before = parts;
    busy = true;
    void tell(parts)
      .catch(() => undefined)
      .finally(() => {
        busy = false;
      });
  }, every);
  return () => clearInterval(timer);
}
