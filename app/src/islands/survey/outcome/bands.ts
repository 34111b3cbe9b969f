import { quantile } from '@rook-scale/core/numeric';

/** Five bands of about equal size, each named by its ends; fewer where values repeat. */
export function bandsOf(
  values: Float64Array,
  show: (value: number) => string,
): { codes: Int32Array; names: string[] } {
  const edges = [...new Set([0.2, 0.4, 0.6, 0.8].map((share) => quantile(values, share)))].filter(
    (edge) => !Number.isNaN(edge),
  );
  const codes = Int32Array.from(values, (value) => {
    if (Number.isNaN(value)) return -1;
    const place = edges.findIndex((edge) => value <= edge);
    return place < 0 ? edges.length : place;
  });
  const ends = Array.from({ length: edges.length + 1 }, () => [Infinity, -Infinity]);
  codes.forEach((code, i) => {
    if (code < 0) return;
    ends[code][0] = Math.min(ends[code][0], values[i]);
    ends[code][1] = Math.max(ends[code][1], values[i]);
  });
  const names = ends.map(([least, most]) =>
    least > most ? '' : least === most ? show(least) : `${show(least)} – ${show(most)}`,
  );
  return { codes, names };
}
