/** Which of two comes first; what is not known stands last, whichever way. */
export function compareKnown(
  a: number | string | undefined,
  b: number | string | undefined,
  up: boolean,
): number {
  const gone = (value: typeof a) => value === undefined || Number.isNaN(value);
  if (gone(a) || gone(b)) return Number(gone(a)) - Number(gone(b));
  const order =
    typeof a === 'number' && typeof b === 'number' ? a - b : String(a).localeCompare(String(b));
  return up ? order : -order;
}
