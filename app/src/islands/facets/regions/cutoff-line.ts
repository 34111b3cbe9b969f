/** A straight piece of a line, in cells. */
export type Edge = [x1: number, y1: number, x2: number, y2: number];

export interface Grid {
  /** One for the middle of each cell, row by row from below. */
  scores: Float64Array;
  wide: number;
  high: number;
  /** Whether the axis is a number, which has values between the middles of its cells. */
  between: { across: boolean; up: boolean };
}

/**
 * The line between patients who are called in and those who are not.
 *
 * A model whose predictions change in steps, such as a tree, has the line between cells. Otherwise the line is the
 * contour at the cutoff: predictions are interpolated linearly between the middles of cells.
 */
export function cutoffLine(grid: Grid, cutoff: number): Edge[] {
  if (isStepped(grid, cutoff)) return edgesBetween(grid, cutoff, [1, 1]);
  const { across, up } = grid.between;
  if (across && up) return contour(padded(grid), cutoff);
  // A level has no values between: the line is exact along the number, and goes along the borders of levels.
  const finer = [across ? finely : 1, up ? finely : 1];
  return edgesBetween(refined(grid, finer), cutoff, finer);
}

/** Parts of a cell along a number whose other axis is a level. */
const finely = 32;

/** Whether most neighbours on two sides of the cutoff stand on level ground. */
function isStepped({ scores, wide, high, between }: Grid, cutoff: number): boolean {
  let [crossings, steps] = [0, 0];
  const walk = (at: (k: number) => number, length: number) => {
    for (let k = 0; k + 1 < length; k++) {
      const [one, other] = [scores[at(k)], scores[at(k + 1)]];
      if (one >= cutoff === other >= cutoff) continue;
      crossings++;
      const beyond = [
        [k - 1, k],
        [k + 1, k + 2],
      ].filter(([a, b]) => a >= 0 && b < length);
      if (beyond.length > 0 && beyond.every(([a, b]) => scores[at(a)] === scores[at(b)])) steps++;
    }
  };
  if (between.across) for (let row = 0; row < high; row++) walk((k) => row * wide + k, wide);
  if (between.up)
    for (let column = 0; column < wide; column++) walk((k) => k * wide + column, high);
  return crossings === 0 || 2 * steps > crossings;
}

/** Borders between cells on two sides of the cutoff; a cell of the map may be divided into several. */
function edgesBetween({ scores, wide }: Grid, cutoff: number, [partsX, partsY]: number[]): Edge[] {
  const isCalled = (i: number) => scores[i] >= cutoff;
  const edges: Edge[] = [];
  const edge = (x1: number, y1: number, x2: number, y2: number) =>
    edges.push([x1 / partsX, y1 / partsY, x2 / partsX, y2 / partsY]);
  for (let i = 0; i < scores.length; i++) {
    const [x, y] = [i % wide, Math.floor(i / wide)];
    if (x + 1 < wide && isCalled(i) !== isCalled(i + 1)) edge(x + 1, y, x + 1, y + 1);
    if (i + wide < scores.length && isCalled(i) !== isCalled(i + wide))
      edge(x, y + 1, x + 1, y + 1);
  }
  return edges;
}

/** The grid with each cell in parts, interpolated between the middles of cells. */
function refined({ scores, wide, high, between }: Grid, [partsX, partsY]: number[]): Grid {
  const [width, height] = [wide * partsX, high * partsY];
  const finer = new Float64Array(width * height);
  for (let i = 0; i < finer.length; i++) {
    const [left, shareX] = placeOf(i % width, partsX, wide);
    const [below, shareY] = placeOf(Math.floor(i / width), partsY, high);
    const at = (dx: number, dy: number) =>
      scores[Math.min(high - 1, below + dy) * wide + Math.min(wide - 1, left + dx)];
    finer[i] =
      (1 - shareY) * ((1 - shareX) * at(0, 0) + shareX * at(1, 0)) +
      shareY * ((1 - shareX) * at(0, 1) + shareX * at(1, 1));
  }
  return { scores: finer, wide: width, high: height, between };
}

/** The cell whose middle lies before this part, and how far on to the next; the ends go on as they are. */
function placeOf(part: number, parts: number, cells: number): [cell: number, share: number] {
  const at = Math.min(cells - 1, Math.max(0, (part + 0.5) / parts - 0.5));
  return [Math.floor(at), at - Math.floor(at)];
}

interface Points {
  scores: Float64Array;
  /** Where points stand, in cells. */
  x: number[];
  y: number[];
}

/** The middles of cells, and the edges of the map, where the scores go on as between the last two cells. */
function padded({ scores, wide, high }: Grid): Points {
  const places = (cells: number) => [0, ...Array.from({ length: cells }, (_, i) => i + 0.5), cells];
  const [x, y] = [places(wide), places(high)];
  const across = new Float64Array(x.length * high);
  for (let row = 0; row < high; row++)
    across.set(
      outward(wide, (cell) => scores[row * wide + cell]),
      row * x.length,
    );
  const columns = x.map((_, column) => outward(high, (row) => across[row * x.length + column]));
  return {
    x,
    y,
    scores: Float64Array.from(
      { length: x.length * y.length },
      (_, i) => columns[i % x.length][Math.floor(i / x.length)],
    ),
  };
}

/** Scores of a line of cells, and half a cell beyond each end. */
function outward(cells: number, at: (cell: number) => number): number[] {
  const beyond = (last: number, before: number) =>
    cells > 1 ? at(last) + (at(last) - at(before)) / 2 : at(last);
  return [
    beyond(0, 1),
    ...Array.from({ length: cells }, (_, i) => at(i)),
    beyond(cells - 1, cells - 2),
  ];
}

/** Marching squares: pieces of the line through each square of four points. */
function contour({ scores, x, y }: Points, cutoff: number): Edge[] {
  const edges: Edge[] = [];
  const score = (column: number, row: number) => scores[row * x.length + column];
  for (let row = 0; row + 1 < y.length; row++)
    for (let column = 0; column + 1 < x.length; column++) {
      // Anticlockwise from the point below on the left.
      const corners = [
        [0, 0],
        [1, 0],
        [1, 1],
        [0, 1],
      ].map(([dx, dy]) => ({
        x: x[column + dx],
        y: y[row + dy],
        score: score(column + dx, row + dy),
      }));
      const crossed = corners.flatMap((from, k) => {
        const to = corners[(k + 1) % 4];
        if (from.score >= cutoff === to.score >= cutoff) return [];
        const share = (cutoff - from.score) / (to.score - from.score);
        return [[from.x + share * (to.x - from.x), from.y + share * (to.y - from.y)]];
      });
      // Where all four sides are crossed, the mean of the corners says which of them are joined.
      const mean = corners.reduce((sum, corner) => sum + corner.score / 4, 0);
      const turned =
        crossed.length === 4 && corners[0].score >= cutoff === mean >= cutoff
          ? crossed
          : [...crossed.slice(-1), ...crossed.slice(0, -1)];
      const line = crossed.length === 4 ? turned : crossed;
      for (let k = 0; k + 1 < line.length; k += 2) edges.push([...line[k], ...line[k + 1]] as Edge);
    }
  return edges;
}
