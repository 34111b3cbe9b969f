/** Dots that a chart is wide and high, about. */
const dots = 400;

/**
 * Points of a curve without those that would fall on the same dot of a chart; the last one stays.
 *
 * @param place from 0 to 1 across and up
 */
export function thin<Point>(points: Point[], place: (point: Point) => [number, number]): Point[] {
  let last = '';
  return points.filter((point, i) => {
    const [x, y] = place(point);
    const dot = `${Math.round(dots * x)},${Math.round(dots * y)}`;
    const keep = dot !== last || i === points.length - 1;
    last = dot;
    return keep;
  });
}
