import {
  ascendingOrder,
  distanceRoom,
  pointsABlock,
  type PointTable,
} from '../../numeric/index.ts';
import { orderInSpace } from './order-in-space.ts';

/** Points among which the nearest are sought. */
export interface Points {
  rowCount: number;
  /** Point after point, by column; NaN where it is not known. */
  values: Float64Array;
  /** How much each column counts of what two points must both know; those of one predictor 1 together. */
  shares: Float64Array;
  by: 'squares' | 'absolutes';
}

/** The nearest of a point, the nearest first; of those equally far the one that stands before. */
export interface Found {
  rows: Int32Array;
  /** Sums of squares, or of absolute differences; those over some columns as if over all. */
  sums: Float64Array;
}

export interface Search {
  /** Fewer than asked for where there are no more that know enough of the same columns. */
  nearest: (point: Float64Array, count: number) => Found;
}

/** Of what a patient knows, how much another must know too to be compared. */
const leastShared = 1 / 3;

/** Beyond it single precision says little about a value. */
const roughAtMost = 1e6;

/**
 * Exact search: a scan in single precision, over blocks whose box is near enough, finds all who can be
 * among the nearest by its error bound, and these are measured again in double precision.
 */
export function searchAmong(points: Points): Search {
  const { rowCount, values, shares, by } = points;
  const columns = shares.length;
  const gaps = values.some((value) => value !== value);
  const order = gaps ? Int32Array.from({ length: rowCount }, (_, i) => i) : orderInSpace(points);
  const table: PointTable = { count: rowCount, columns, values, order, by, gaps, shares };
  const most = new Float64Array(columns);
  values.forEach((value, at) => {
    const size = Math.abs(value);
    if (size > most[at % columns]) most[at % columns] = size;
  });
  const room = most.some((size) => size > roughAtMost) ? undefined : distanceRoom(table);
  const whole = shares.reduce((sum, one) => sum + one, 0);

  return {
    nearest(point, count) {
      const known = Int32Array.from(point.keys()).filter((j) => point[j] === point[j]);
      const wanted = Math.min(count, rowCount);
      if (known.length === 0 || wanted === 0) return none;
      const own = known.reduce((sum, j) => sum + shares[j], 0);
      const enough = leastShared * own - 1e-9;
      // Who lacks a value is compared with everybody on what is left; the table of known ones is then no use.
      const isRough = room && (gaps || known.length === columns);
      const candidates =
        isRough && known.every((j) => Math.abs(point[j]) <= roughAtMost)
          ? rough(known, point, wanted, enough)
          : order;
      return measured(candidates, point, known, wanted, enough);
    },
  };

  /** All who can be among the nearest. */
  function rough(
    known: Int32Array,
    point: Float64Array,
    wanted: number,
    enough: number,
  ): Int32Array {
    const { places, distances, blocks } = room!;
    for (let j = 0; j < columns; j++) room!.point[j] = point[j] === point[j] ? point[j] : 0;
    const slack = slackOf(known, point, enough);
    room!.found = 0;
    let limit = Infinity;
    const begin = room!.nearestBlock();
    // Those near at first, then twice as many each time, so that soon only few are near enough.
    let span = Math.ceil((2 * wanted) / pointsABlock);
    for (const [from, to] of [
      [begin, blocks],
      [0, begin],
    ]) {
      for (let at = from; at < to; span *= 2) {
        at = room!.scan(at, Math.min(to, at + span), limit, known, 0.999 * enough);
        if (room!.found >= wanted) limit = keepNear(slack, wanted);
      }
    }
    // Of those equally far the one that stands before comes first.
    return Int32Array.from(places.subarray(0, room!.found), (place) => order[place]).sort();

    function keepNear(bound: (rough: number) => number, count: number): number {
      const last = kthOf(distances.slice(0, room!.found), count - 1);
      const far = bound(last);
      let kept = 0;
      for (let i = 0; i < room!.found; i++) {
        if (distances[i] > far) continue;
        distances[kept] = distances[i];
        places[kept++] = places[i];
      }
      room!.found = kept;
      return far;
    }
  }

  /** The rough distance beyond which nobody can be nearer than one whose rough distance this is. */
  function slackOf(known: Int32Array, point: Float64Array, enough: number) {
    const errors = known.map(() => 0);
    let [sum, squares] = [0, 0];
    for (let k = 0; k < errors.length; k++) {
      const j = known[k];
      const error = 1.2e-7 * (most[j] + Math.abs(point[j]));
      sum += error;
      squares += error * error;
    }
    const times = gaps ? whole / Math.max(1e-9, enough) : 1;
    const relative = (columns + 8) * 2.4e-7;
    if (by === 'absolutes') {
      const away = 2 * sum * times;
      return (rough: number) => rough * (1 + 3 * relative) + away;
    }
    const away = 2 * Math.sqrt(squares * times);
    return (rough: number) => (Math.sqrt(rough) * (1 + relative) + away) ** 2 * (1 + relative);
  }

  function measured(
    candidates: Int32Array,
    point: Float64Array,
    known: Int32Array,
    wanted: number,
    enough: number,
  ): Found {
    const sums = new Float64Array(candidates.length);
    for (let i = 0; i < candidates.length; i++) {
      const at = candidates[i] * columns;
      let sum = 0;
      let shared = 0;
      for (let k = 0; k < known.length; k++) {
        const j = known[k];
        const difference = point[j] - values[at + j];
        if (difference !== difference) continue;
        sum += by === 'squares' ? difference * difference : Math.abs(difference);
        shared += shares[j];
      }
      sums[i] = shared < enough ? Infinity : shared < whole ? (sum * whole) / shared : sum;
    }
    const first = ascendingOrder(sums)
      .filter((i) => sums[i] < Infinity)
      .subarray(0, wanted);
    return {
      rows: Int32Array.from(first, (i) => candidates[i]),
      sums: Float64Array.from(first, (i) => sums[i]),
    };
  }
}

const none: Found = { rows: new Int32Array(0), sums: new Float64Array(0) };

/** The number that has as many before it when all are sorted; changes their order. */
function kthOf(numbers: Float32Array, k: number): number {
  let [low, high] = [0, numbers.length - 1];
  while (low < high) {
    const middle = numbers[(low + high) >> 1];
    let [i, j] = [low, high];
    while (i <= j) {
      while (numbers[i] < middle) i++;
      while (numbers[j] > middle) j--;
      if (i > j) break;
      [numbers[i], numbers[j]] = [numbers[j], numbers[i]];
      i++;
      j--;
    }
    if (k <= j) high = j;
    else if (k >= i) low = i;
    else break;
  }
  return numbers[k];
}
