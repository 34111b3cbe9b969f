import { blockRows } from './kernels/weighted-products.ts';

/**
 * The triangle R of the QR decomposition of a tall matrix, whose rows come block by block: each block
 * is turned into the triangle by Householder reflections (Golub & Van Loan 2013, Matrix Computations,
 * 4th ed., 5.2), so that the whole is read once and never squared.
 */
export class TallFactor {
  /** Room for one block, column by column; fill it, 0 beyond its end, then call `absorb`. */
  readonly columns: Float64Array[];
  /** Upper triangle, size x size, row-major; its signs are arbitrary. */
  readonly triangle: Float64Array;

  constructor(
    readonly size: number,
    rows = blockRows,
  ) {
    this.columns = Array.from({ length: size }, () => new Float64Array(rows));
    this.triangle = new Float64Array(size * size);
  }

  absorb(): void {
    const { size, columns, triangle } = this;
    for (let j = 0; j < size; j++) {
      const column = columns[j];
      const below = product(column, column);
      if (below === 0) continue;
      const corner = triangle[j * size + j];
      const length = Math.sqrt(corner * corner + below);
      const turned = corner > 0 ? -length : length;
      const head = corner - turned;
      const scale = 2 / (head * head + below);
      triangle[j * size + j] = turned;
      for (let k = j + 1; k < size; k++) {
        const other = columns[k];
        const at = j * size + k;
        const share = scale * (head * triangle[at] + product(column, other));
        triangle[at] -= share * head;
        for (let i = 0; i < other.length; i++) other[i] -= share * column[i];
      }
    }
  }
}

function product(a: Float64Array, b: Float64Array): number {
  let [one, two, three, four] = [0, 0, 0, 0];
  let i = 0;
  for (; i + 3 < a.length; i += 4) {
    one += a[i] * b[i];
    two += a[i + 1] * b[i + 1];
    three += a[i + 2] * b[i + 2];
    four += a[i + 3] * b[i + 3];
  }
  for (; i < a.length; i++) one += a[i] * b[i];
  return one + two + (three + four);
}
