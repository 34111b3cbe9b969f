import type { RandomStream } from '../numeric/index.ts';
import type { Inputs } from '../preparation/index.ts';

/** Neighbours are looked for among so many cases at most. */
const mostSearched = 2000;

/**
 * Made-up cases, each at a point by chance on the line from a case to one of the cases nearest to it
 * (Chawla, Bowyer, Hall & Kegelmeyer 2002, Journal of Artificial Intelligence Research 16:321-357).
 * What is 0 or 1 in all patients takes the value of the nearer of the two.
 *
 * @param cases rows that are cases
 * @returns a column an input, `count` entries each
 */
export function casesInBetween(
  inputs: Inputs,
  cases: number[],
  count: number,
  neighbours: number,
  draw: RandomStream,
): Float64Array[] {
  const { columns } = inputs;
  const isMark = columns.map((column) => column.every((value) => value === 0 || value === 1));
  const searched =
    cases.length <= mostSearched
      ? cases
      : Array.from(
          { length: mostSearched },
          () => cases[Math.floor(cases.length * draw.uniform())],
        );
  const nearest = new Map<number, number[]>();
  const nearTo = (row: number) => {
    let near = nearest.get(row);
    if (!near) nearest.set(row, (near = nearestOf(columns, row, searched, neighbours)));
    return near;
  };
  const made = columns.map(() => new Float64Array(count));
  for (let i = 0; i < count; i++) {
    // Every case in turn, so that none is forgotten.
    const from = cases[i % cases.length];
    const near = nearTo(from);
    const to = near.length > 0 ? near[Math.floor(near.length * draw.uniform())] : from;
    const part = draw.uniform();
    columns.forEach((column, j) => {
      made[j][i] = isMark[j]
        ? column[part < 0.5 ? from : to]
        : column[from] + part * (column[to] - column[from]);
    });
  }
  return made;
}

/** The nearest other rows, by the sum of squared differences. */
function nearestOf(columns: Float64Array[], row: number, rows: number[], count: number): number[] {
  const near: { row: number; far: number }[] = [];
  for (const other of rows) {
    if (other === row) continue;
    let far = 0;
    for (const column of columns) far += (column[row] - column[other]) ** 2;
    if (near.length === count && far >= near[count - 1].far) continue;
    let place = near.length;
    while (place > 0 && near[place - 1].far > far) place--;
    near.splice(place, 0, { row: other, far });
    if (near.length > count) near.pop();
  }
  return near.map((one) => one.row);
}
