/** Points of a curve without those that would fall on the same dot of a chart some 400 dots wide. */
export function thin<Point>(points: Point[], place: (point: Point) => [number, number]): Point[] {
  let last = '';
  return points.filter((point, i) => {
    const [x, y] = place(point);
    const dot = `${Math.round(400 * x)},${Math.round(400 * y)}`;
    const keep = dot !== last || i === points.length - 1;
    last = dot;
    return keep;
  });
}
