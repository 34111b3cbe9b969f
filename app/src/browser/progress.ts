interface Running {
  partsDone: number;
  partsTotal: number;
  /** Milliseconds since the fit began. */
  elapsed: number | null;
}

/** "3 of 6 fits done, about 4 s left". */
export function partsText({ partsDone, partsTotal, elapsed }: Running): string {
  const total = partsTotal || 6;
  return `${partsDone} of ${total} fits done${secondsLeft(elapsed ?? 0, partsDone, total)}`;
}

/** ", about 4 s left"; nothing within the first second or before anything is done. */
export function secondsLeft(elapsed: number, done: number, total: number): string {
  if (done === 0 || elapsed < 1000) return '';
  const seconds = Math.ceil(((elapsed / done) * (total - done)) / 1000);
  return seconds < 60
    ? `, about ${seconds} s left`
    : `, about ${Math.round(seconds / 60)} min left`;
}
