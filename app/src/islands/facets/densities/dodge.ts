/** Places in the order of these, moved to the right where letters would stand on one another. */
export function dodged(places: number[], apart: number): number[] {
  const order = places.map((place, k) => ({ place, k })).sort((a, b) => a.place - b.place);
  const moved = [...places];
  let last = -Infinity;
  for (const { place, k } of order) last = moved[k] = Math.max(place, last + apart);
  return moved;
}
