interface Running {
  partsDone: number;
  partsTotal: number;
  /** Milliseconds since the fit began. */
  elapsed: number | null;
}

/** "3 of 6 fits done, about 4 s left". */
export function partsText(running: Running): string {
  return `${running.partsDone} of ${running.partsTotal || 6} fits done${timeLeft(running)}`;
}

function timeLeft({ elapsed, partsDone, partsTotal }: Running): string {
  if (!elapsed || partsDone === 0 || elapsed < 1000) return '';
  const seconds = Math.ceil(((elapsed / partsDone) * (partsTotal - partsDone)) / 1000);
  return seconds < 60
    ? `, about ${seconds} s left`
    : `, about ${Math.round(seconds / 60)} min left`;
}
