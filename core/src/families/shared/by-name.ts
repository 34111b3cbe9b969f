/** Inputs in the order of their names: whoever draws among them draws the same wherever they stand. */
export const byName = (names: string[]): Int32Array =>
  Int32Array.from(names.keys()).sort((one, other) => (names[one] < names[other] ? -1 : 1));
