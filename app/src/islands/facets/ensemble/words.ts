/** Three figures, without a point where none is needed. */
export const short = (value: number): string =>
  (Math.abs(value) >= 1000
    ? String(Math.round(value))
    : String(Number(value.toPrecision(3)))
  ).replace('-', '−');
