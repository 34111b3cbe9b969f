import { compileWasm, mostMemory } from './compile.ts';
import { series } from './exponentials.ts';
import { wasm } from './network.wasm.ts';

/** Patients whose slopes are taken together before a step. */
export const batchSize = 32;

/** What a network is trained on. */
export interface NetworkTask {
  /** Patient after patient, by input. */
  rows: Float64Array;
  /** 0 or 1, the place of a level, or a number. */
  outcome: Float64Array;
  weights: Float64Array;
  kind: 'event' | 'levels' | 'number';
  /** Inputs, hidden units of each layer, outputs. */
  sizes: number[];
}

export interface NetworkRoom {
  /** Parameters, layer by layer: of each unit its constant, then one weight a unit before. */
  parameters: Float64Array;
  /** How strongly each is drawn towards none. */
  decays: Float64Array;
  /** Forgets what steps were taken. */
  begin(): void;
  /** One pass over these patients in this order; the rate falls evenly from one to the other. */
  pass(order: Int32Array, rate: number, last: number): void;
  /** Of each patient the share that what happened was given, or how far off the number is, squared. */
  given(order: Int32Array): Float64Array;
  /** Slopes of the mean loss of up to 32 patients, without decay. */
  gradient(order: Int32Array): Float64Array;
}

/** How many parameters layers of these sizes have. */
export const parametersOf = (sizes: number[]): number =>
  sizes.slice(1).reduce((sum, units, l) => sum + units * (sizes[l] + 1), 0);

type Kernel = (...numbers: number[]) => void;

const kinds = { event: 0, levels: 1, number: 2 };

/** Throws where the machine has no WebAssembly with SIMD, or not the memory. */
export function networkRoom({ rows, outcome, weights, kind, sizes }: NetworkTask): NetworkRoom {
  const kernel = compileWasm(wasm);
  const count = outcome.length;
  const size = parametersOf(sizes);
  const units = sizes.reduce((sum, one) => sum + one, 0);
  let end = 2048;
  const room = (numbers: number, width = 8) => {
    const begin = end;
    end += 16 * Math.ceil((numbers * width) / 16);
    return begin;
  };
  const rowsAt = room(rows.length);
  const outcomeAt = room(count);
  const weightsAt = room(count);
  const parametersAt = room(size);
  const decaysAt = room(size);
  const gradientAt = room(size);
  const momentsAt = room(2 * size);
  const saidAt = room(units * batchSize);
  const errorsAt = room(units * batchSize);
  const orderAt = room(count, 4);
  const givenAt = room(count + batchSize);
  if (!kernel || end > mostMemory)
    throw new Error('There is not enough memory for a network of so many patients.');
  const memory = new WebAssembly.Memory({ initial: Math.ceil(end / 65536) });
  const { buffer } = memory;
  const { exports } = new WebAssembly.Instance(kernel, { env: { memory } });
  const kernels = exports as unknown as Record<'pass' | 'given' | 'gradientOf', Kernel>;
  const [tableAt, seriesAt] = [1024, 1536];
  const layers = sizes.length - 1;
  // prettier-ignore
  new Int32Array(buffer, tableAt, 16).set([
    layers, kinds[kind], rowsAt, outcomeAt, weightsAt, parametersAt, saidAt, errorsAt, gradientAt, momentsAt, size,
  ]);
  new Int32Array(buffer, tableAt + 64, sizes.length).set(sizes);
  new Float64Array(buffer, seriesAt, series.length).set(series);
  new Float64Array(buffer, rowsAt, rows.length).set(rows);
  new Float64Array(buffer, outcomeAt, count).set(outcome);
  new Float64Array(buffer, weightsAt, count).set(weights);
  const order = new Int32Array(buffer, orderAt, count);
  const moments = new Float64Array(buffer, momentsAt, 2 * size);
  const given = new Float64Array(buffer, givenAt, count);
  let steps = 0;
  return {
    parameters: new Float64Array(buffer, parametersAt, size),
    decays: new Float64Array(buffer, decaysAt, size),
    begin() {
      moments.fill(0);
      steps = 0;
    },
    pass(own, rate, last) {
      order.set(own);
      const [first, second] = [0.9 ** steps, 0.999 ** steps];
      // prettier-ignore
      kernels.pass(tableAt, orderAt, own.length, decaysAt, rate, last, first, second, seriesAt);
      steps += Math.ceil(own.length / batchSize);
    },
    given(own) {
      order.set(own);
      kernels.given(tableAt, orderAt, own.length, givenAt, seriesAt);
      return given.subarray(0, own.length);
    },
    gradient(own) {
      if (own.length > batchSize) throw new Error(`At most ${batchSize} patients.`);
      order.set(own);
      kernels.gradientOf(tableAt, orderAt, own.length, seriesAt);
      return new Float64Array(buffer, gradientAt, size).slice();
    },
  };
}
