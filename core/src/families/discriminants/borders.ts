/** Where two levels are as likely: ends of a short piece, x and y of each. */
export type Piece = [number, number, number, number];

/** Values at the crossings of a grid: `side` across and as many up, row by row from below. */
export interface Grid {
  /** Least and greatest, the same for every row, and for every column. */
  across: [number, number];
  up: [number, number];
  side: number;
}

export const placesOf = ({ across, up, side }: Grid): { x: Float64Array; y: Float64Array } => {
  const at = ([from, to]: [number, number], k: number) => from + ((to - from) * k) / (side - 1);
  const count = side * side;
  return {
    x: Float64Array.from({ length: count }, (_, i) => at(across, i % side)),
    y: Float64Array.from({ length: count }, (_, i) => at(up, Math.floor(i / side))),
  };
};

/**
 * Borders between the likeliest levels. In each cell the places are joined where the likeliest level changes
 * along its edges, found on a straight line between the logarithms at both ends, so that straight borders
 * are exact; where three levels meet, at their middle.
 *
 * @param logs by crossing and level, up to a constant of each crossing
 */
export function bordersOf(grid: Grid, logs: Float64Array, levels: number): Piece[] {
  const { side } = grid;
  const { x, y } = placesOf(grid);
  const likeliest = Uint8Array.from({ length: side * side }, (_, i) => {
    const own = logs.subarray(i * levels, (i + 1) * levels);
    return own.indexOf(Math.max(...own));
  });
  const pieces: Piece[] = [];
  for (let row = 0; row < side - 1; row++)
    for (let column = 0; column < side - 1; column++) {
      const a = row * side + column;
      const corners = [a, a + 1, a + 1 + side, a + side];
      const met = corners.flatMap((one, k) => {
        const other = corners[(k + 1) % 4];
        const [from, to] = [likeliest[one], likeliest[other]];
        if (from === to) return [];
        const ahead = logs[one * levels + from] - logs[one * levels + to];
        const behind = logs[other * levels + to] - logs[other * levels + from];
        const share = ahead + behind > 0 ? ahead / (ahead + behind) : 0.5;
        return [[x[one] + share * (x[other] - x[one]), y[one] + share * (y[other] - y[one])]];
      });
      if (met.length === 2) pieces.push([met[0][0], met[0][1], met[1][0], met[1][1]]);
      else if (met.length > 2) {
        const middle = [0, 1].map(
          (k) => met.reduce((sum, place) => sum + place[k], 0) / met.length,
        );
        for (const place of met) pieces.push([place[0], place[1], middle[0], middle[1]]);
      }
    }
  return pieces;
}
