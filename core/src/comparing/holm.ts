/** Each p corrected for how many there are (Holm 1979, Scandinavian Journal of Statistics 6:65-70). */
export function holm(ps: number[]): number[] {
  const order = [...ps.keys()].sort((a, b) => ps[a] - ps[b]);
  const adjusted = new Array<number>(ps.length);
  let least = 0;
  order.forEach((at, rank) => {
    least = Math.min(1, Math.max(least, (ps.length - rank) * ps[at]));
    adjusted[at] = least;
  });
  return adjusted;
}
