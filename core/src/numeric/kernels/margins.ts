import { compileWasm, mostMemory } from './compile.ts';
import { series } from './exponentials.ts';
import { wasm } from './margins.wasm.ts';

const blockSize = 16;

type Kernel = (...numbers: number[]) => number;

function instance(bytes: number) {
  const kernel = compileWasm(wasm);
  if (!kernel || bytes > mostMemory)
    throw new Error('There is not enough memory to compare so many patients.');
  const memory = new WebAssembly.Memory({ initial: Math.ceil(bytes / 65536) });
  const { exports } = new WebAssembly.Instance(kernel, { env: { memory } });
  return { buffer: memory.buffer, kernels: exports as unknown as Record<string, Kernel> };
}

const seriesAt = 1024;
const begin = 2048;

/** How alike points are to each of some patients. */
export interface AlikeRoom {
  /** Overwritten by the next. */
  to: (point: Float64Array) => Float64Array;
}

/**
 * Products with each patient, or with a narrowness e to the power of -narrowness × squared distance.
 *
 * @param rows patient after patient
 */
export function alikeRoom(rows: Float64Array, inputs: number, narrowness?: number): AlikeRoom {
  const count = inputs > 0 ? rows.length / inputs : 0;
  const blocks = Math.ceil(count / blockSize);
  const pointAt = begin;
  const blocksAt = pointAt + 16 * Math.ceil(inputs / 2);
  const squaresAt = blocksAt + 8 * blocks * blockSize * inputs;
  const toAt = squaresAt + 8 * blocks * blockSize;
  const { buffer, kernels } = instance(toAt + 8 * blocks * blockSize);
  new Float64Array(buffer, seriesAt, series.length).set(series);
  const filled = new Float64Array(buffer, blocksAt, blocks * blockSize * inputs);
  const squares = new Float64Array(buffer, squaresAt, blocks * blockSize);
  for (let row = 0; row < count; row++)
    for (let j = 0; j < inputs; j++) {
      const value = rows[row * inputs + j];
      filled[(Math.floor(row / blockSize) * inputs + j) * blockSize + (row % blockSize)] = value;
      squares[row] += value * value;
    }
  const own = new Float64Array(buffer, pointAt, inputs);
  const to = new Float64Array(buffer, toAt, count);
  return {
    to(point) {
      own.set(point);
      const square = point.reduce((sum, value) => sum + value * value, 0);
      const by = narrowness === undefined ? 0 : squaresAt;
      // prettier-ignore
      kernels.alike(pointAt, inputs, blocksAt, blocks, toAt, by, square, narrowness ?? 0, seriesAt);
      return to;
    },
  };
}

/** Variables of a margin that is widened, filled up to an even number with some that may not move. */
export interface PullRoom {
  pulls: Float64Array;
  /** How alike the two that were moved last are to all; `own` is looked at by `partner` too. */
  own: Float64Array;
  other: Float64Array;
  /** Of each to itself. */
  selves: Float64Array;
  /** 0 where a variable may rise, else minus infinity; 0 where it may fall, else infinity. */
  rises: Float64Array;
  falls: Float64Array;
  /** Moves all pulls; the greatest of those that may rise, its place, and the least of those that may fall. */
  farthest(way: number): { above: number; below: number; place: number };
  /** The place with which the objective falls most; -1 where there is none. */
  partner(above: number, self: number, leastBend: number): number;
}

export function pullRoom(count: number): PullRoom {
  const even = count + (count & 1);
  const { buffer, kernels } = instance(begin + 6 * 8 * even);
  const at = (k: number) => begin + 8 * even * k;
  const array = (k: number) => new Float64Array(buffer, at(k), count);
  const found = new Float64Array(buffer, 1280, 3);
  new Float64Array(buffer, at(4), even).fill(-Infinity);
  new Float64Array(buffer, at(5), even).fill(Infinity);
  return {
    pulls: array(0),
    own: array(1),
    other: array(2),
    selves: array(3),
    rises: array(4),
    falls: array(5),
    farthest(way) {
      kernels.farthest(at(0), at(1), at(2), at(4), at(5), even, way, 1280);
      return { above: found[0], below: found[1], place: found[2] };
    },
    partner: (above, self, leastBend) =>
      kernels.partner(at(0), at(1), at(3), at(5), even, above, self, leastBend),
  };
}
