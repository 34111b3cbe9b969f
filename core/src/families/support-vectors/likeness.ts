import { alikeRoom } from '../../numeric/index.ts';

/** How alike two patients are. */
export type Likeness =
  | { shape: 'linear' }
  /** e^(-distance² × narrowness). */
  | { shape: 'radial'; narrowness: number }
  /** (product / number of inputs + 1)^degree. */
  | { shape: 'polynomial'; degree: number };

/** Patients, row after row, and how alike they are. */
export interface Alike {
  count: number;
  /** How alike this patient is to each; kept for as long as there is room. */
  row(patient: number): Float64Array | Float32Array;
  /** Of each to itself. */
  own: Float64Array;
}

/** Up to so many patients likeness is kept in double precision. */
const doubleUpTo = 6000;
const mostBytes = 400e6;

export function alikeRows(rows: Float64Array, inputs: number, likeness: Likeness): Alike {
  const count = inputs > 0 ? rows.length / inputs : 0;
  const isDouble = count <= doubleUpTo;
  const most = Math.max(2, Math.floor(mostBytes / (count * (isDouble ? 8 : 4))));
  const kept = new Map<number, Float64Array | Float32Array>();
  const alikeTo = alikeness(rows, inputs, likeness);
  const at = (patient: number) => rows.subarray(patient * inputs, (patient + 1) * inputs);
  return {
    count,
    own: Float64Array.from({ length: count }, (_, patient) => ofItself(at(patient), likeness)),
    row(patient) {
      const known = kept.get(patient);
      if (known) return known;
      let room: Float64Array | Float32Array | undefined;
      if (kept.size >= most) {
        const [oldest, array] = kept.entries().next().value!;
        kept.delete(oldest);
        room = array;
      }
      room ??= isDouble ? new Float64Array(count) : new Float32Array(count);
      room.set(alikeTo(at(patient)));
      kept.set(patient, room);
      return room;
    },
  };
}

/** How alike a point is to each patient; what it gives is overwritten by the next. */
export function alikeness(
  rows: Float64Array,
  inputs: number,
  likeness: Likeness,
): (point: Float64Array) => Float64Array {
  if (likeness.shape !== 'polynomial') {
    const narrowness = likeness.shape === 'radial' ? likeness.narrowness : undefined;
    return alikeRoom(rows, inputs, narrowness).to;
  }
  const { to } = alikeRoom(rows, inputs);
  return (point) => {
    const found = to(point);
    for (let i = 0; i < found.length; i++) found[i] = (found[i] / inputs + 1) ** likeness.degree;
    return found;
  };
}

function ofItself(point: Float64Array, likeness: Likeness): number {
  if (likeness.shape === 'radial') return 1;
  const square = point.reduce((sum, value) => sum + value * value, 0);
  return likeness.shape === 'linear' ? square : (square / point.length + 1) ** likeness.degree;
}

/** Patients among whom distances are taken. */
const paired = 1000;

/**
 * The median distance between different patients, of up to 1,000; 1 where all stand in one place.
 *
 * @param rows in which those who are alike in everything stand side by side
 */
export function medianDistance(rows: Float64Array, inputs: number): number {
  const different = Int32Array.from(
    { length: rows.length / Math.max(1, inputs) },
    (_, i) => i,
  ).filter((row) => row === 0 || !isSame(row, row - 1));
  const every = Math.ceil(different.length / paired);
  const some = different.filter((_, i) => i % every === 0);
  const distances = new Float64Array((some.length * (some.length - 1)) / 2);
  let at = 0;
  for (let i = 0; i < some.length; i++)
    for (let k = 0; k < i; k++) {
      let sum = 0;
      for (let j = 0; j < inputs; j++)
        sum += (rows[some[i] * inputs + j] - rows[some[k] * inputs + j]) ** 2;
      distances[at++] = Math.sqrt(sum);
    }
  distances.sort();
  return distances[distances.length >> 1] || 1;

  function isSame(one: number, other: number): boolean {
    for (let j = 0; j < inputs; j++)
      if (rows[one * inputs + j] !== rows[other * inputs + j]) return false;
    return true;
  }
}
