import type { ColumnCells } from '@rook-scale/core/table';

/** Memory for the cells of files just read, in bytes. */
export const cellMemory = 200_000_000;

/** How long cells are kept for the next question. */
const keptFor = 15 * 60_000;

interface Kept {
  cells: Map<string, ColumnCells>;
  bytes: number;
  rowCount: number;
  timer: NodeJS.Timeout;
}

const kept = new Map<string, Kept>();

/**
 * Keeps the cells of a file between its being understood and its becoming a cohort, so that its
 * bytes are parsed once. Only a convenience: after a restart, or when there is no room, the kept
 * bytes are read again.
 */
export function keepCells(uploadId: string, cells: Map<string, ColumnCells>, rowCount: number) {
  forgetCells(uploadId);
  const columns = [...cells.values()];
  const bytes = columns.reduce((sum, column) => sum + column.bytes, 0);
  if (bytes > cellMemory || !columns.every((column) => column.kept)) return;
  const timer = setTimeout(() => kept.delete(uploadId), keptFor);
  timer.unref();
  kept.set(uploadId, { cells, bytes, rowCount, timer });
  let total = [...kept.values()].reduce((sum, one) => sum + one.bytes, 0);
  for (const [oldest, one] of kept) {
    if (total <= cellMemory) return;
    forgetCells(oldest);
    total -= one.bytes;
  }
}

/** The cells of a file by the names of its columns, if they are still at hand. */
export function cellsAtHand(
  uploadId: string,
): { cells: Map<string, ColumnCells>; rowCount: number } | undefined {
  return kept.get(uploadId);
}

export function forgetCells(uploadId: string): void {
  const found = kept.get(uploadId);
  if (!found) return;
  clearTimeout(found.timer);
  kept.delete(uploadId);
}
