/** The patients asked, the nearest first. */
export interface Asked {
  rows: ArrayLike<number>;
  distances: ArrayLike<number>;
}

/** What those asked can say, and how much each counts. */
export interface Voters {
  votes: 'plain' | 'distance' | 'kernel';
  /** How many numbers a vote is: a share each of levels, or one. */
  width: number;
  /** Adds what a patient says, so often, to sums. */
  add: (sums: Float64Array, row: number, weight: number) => void;
  /** Patients whom each stands for; 1 where absent. */
  weights?: Float64Array;
}

/**
 * Means of what the nearest patients say, for several numbers of them in one pass. Votes by kernel are
 * Epanechnikov's with the distance of the first not asked as its width (Hechenbichler & Schliep 2004,
 * Collaborative Research Center 386, Discussion Paper 399; from memory).
 *
 * @param counts ascending
 * @param say gets the mean of each number, and of how many patients it is; 0 where nobody can be asked.
 *   The mean is overwritten by the next.
 */
export function tally(
  { rows, distances }: Asked,
  { votes, width, add, weights }: Voters,
  counts: ArrayLike<number>,
  say: (place: number, mean: Float64Array, patients: number) => void,
): void {
  // Of a kernel 1 - d²/D² the width D comes with the count: both sums that it is made of are kept.
  const ones = new Float64Array(width + 1);
  const squares = new Float64Array(width + 1);
  const mean = new Float64Array(width);
  const sums = new Float64Array(width + 1);
  const isTwin = votes === 'distance' && distances.length > 0 && distances[0] === 0;
  let taken = 0;
  let next = 0;
  for (let place = 0; place < counts.length; place++) {
    const wanted = counts[place];
    while (next < rows.length && taken + weightOf(next) <= wanted) {
      take(ones, squares, next, weightOf(next));
      taken += weightOf(next++);
    }
    const left = next < rows.length ? wanted - taken : 0;
    const patients = taken + left;
    if (votes === 'kernel') {
      const last = distances[Math.min(next, rows.length - 1)];
      const by = last > 0 ? 1 / last ** 2 : 0;
      for (let k = 0; k <= width; k++) sums[k] = ones[k] - by * squares[k];
      // Who stands for several, of whom some are not asked, is as far as the first not asked.
      if (by === 0 && left > 0) put(sums, rows[next], left);
      if (!(sums[width] > 1e-12 * patients)) plainSums(patients);
    } else {
      sums.set(ones);
      if (left > 0) take(sums, squares, next, left);
    }
    for (let k = 0; k < width; k++) mean[k] = patients > 0 ? sums[k] / sums[width] : 0;
    say(place, mean, patients);
  }

  function weightOf(i: number): number {
    return weights ? weights[rows[i]] : 1;
  }

  function put(to: Float64Array, row: number, weight: number): void {
    add(to, row, weight);
    to[width] += weight;
  }

  function take(to: Float64Array, toSquares: Float64Array, i: number, weight: number): void {
    const distance = distances[i];
    if (votes === 'distance') {
      // Where some are the same in everything, only they say anything.
      if (!isTwin) put(to, rows[i], weight / distance);
      else if (distance === 0) put(to, rows[i], weight);
      return;
    }
    put(to, rows[i], weight);
    if (votes === 'kernel') put(toSquares, rows[i], weight * distance ** 2);
  }

  /** All are equally far: all count alike. */
  function plainSums(patients: number): void {
    sums.fill(0);
    let some = 0;
    for (let i = 0; i < rows.length && some < patients; i++) {
      const weight = Math.min(weightOf(i), patients - some);
      put(sums, rows[i], weight);
      some += weight;
    }
  }
}
