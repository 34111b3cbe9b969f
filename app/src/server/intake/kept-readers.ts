import { cellMemory } from './limits.ts';
import type { Reader } from './reader.ts';

/** How long a file just read is kept at hand for the next question. */
const keptFor = 15 * 60_000;

/** Threads that wait with the cells of a file, at most. */
const keptAtMost = 4;

interface Kept {
  reader: Reader;
  timer: NodeJS.Timeout;
}

const kept = new Map<string, Kept>();

/**
 * Keeps the thread that has read a file, with its cells, between its being understood and its
 * becoming a cohort, so that its bytes are parsed once. Only a convenience: after a restart, or when
 * there is no room, the kept bytes are read again.
 */
export function keepReader(uploadId: string, reader: Reader): void {
  endReader(uploadId);
  if (reader.cellBytes === undefined) {
    reader.end();
    return;
  }
  const timer = setTimeout(() => endReader(uploadId), keptFor);
  timer.unref();
  kept.set(uploadId, { reader, timer });
  let total = [...kept.values()].reduce((sum, one) => sum + one.reader.cellBytes!, 0);
  for (const [oldest, one] of kept) {
    if (total <= cellMemory && kept.size <= keptAtMost) return;
    total -= one.reader.cellBytes!;
    endReader(oldest);
  }
}

/** The thread that has the cells of a file, if it is still at hand. */
export function readerAtHand(uploadId: string): Reader | undefined {
  return kept.get(uploadId)?.reader;
}

export function endReader(uploadId: string): void {
  const found = kept.get(uploadId);
  if (!found) return;
  clearTimeout(found.timer);
  kept.delete(uploadId);
  found.reader.end();
}
