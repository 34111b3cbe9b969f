interface Running {
  partsDone: number;
  partsTotal: number;
  /** How much of the parts at work is done, in parts. */
  partsBegun: number;
  /** Milliseconds since the fit began. */
  elapsed: number | null;
}

/** "3 of 6 fits done, 62% in all, about 4 s left". */
export function partsText({ partsDone, partsTotal, partsBegun, elapsed }: Running): string {
  const total = partsTotal || 6;
  const done = Math.min(total, partsDone + partsBegun);
  const share = partsBegun > 0 ? `, ${Math.floor((100 * done) / total)}% in all` : '';
  return `${partsDone} of ${total} fits done${share}${secondsLeft(elapsed ?? 0, done, total)}`;
}

/** ", about 4 s left"; nothing within the first second or before anything is done. */
export function secondsLeft(elapsed: number, done: number, total: number): string {
  if (done === 0 || elapsed < 1000) return '';
  const seconds = Math.ceil(((elapsed / done) * (total - done)) / 1000);
  return seconds < 60
    ? `, about ${seconds} s left`
    : `, about ${Math.round(seconds / 60)} min left`;
}
