import { compileWasm, mostMemory } from './compile.ts';
import { blockRows, type ProductKernel } from './weighted-products.ts';
import { wasm } from './weighted-products.wasm.ts';

/** The inputs of all patients, kept block by block as sums over them are taken again and again. */
export interface DesignBlocks {
  /** Inputs and, in front of them, the constant. */
  size: number;
  /** Σ slope × input of every patient, the constant's slope first. */
  combine(slopes: Float64Array, to: Float64Array): void;
  /** Σ over patients of value × input, the constant first. */
  project(values: Float64Array): Float64Array;
  /** Σ over patients of weight × input × input for these places, both halves, row-major. */
  products(weights: Float64Array, places: Int32Array): Float64Array;
}

/** Inputs as given, and what is taken from each and what it is then multiplied by. */
export interface DesignInputs {
  rowCount: number;
  columns: Float64Array[];
  means: ArrayLike<number>;
  factors: ArrayLike<number>;
}

/**
 * Compiled where the machine has WebAssembly with SIMD and it holds so much, else plain; the same up to
 * rounding.
 */
export const designBlocks = (inputs: DesignInputs): DesignBlocks =>
  compiledDesign(inputs) ?? plainDesign(inputs);

/** Undefined where the machine cannot run it, or it does not hold so much. */
export function compiledDesign(inputs: DesignInputs): DesignBlocks | undefined {
  const { columns, means, factors, rowCount: patients } = inputs;
  const kernel = compileWasm(wasm);
  if (!kernel) return undefined;
  const size = columns.length + 1;
  const bytes = 8 * blockRows;
  const blocks = Math.ceil(patients / blockRows);
  let end = 1024;
  const room = (count: number) => {
    const at = end;
    end += 16 * Math.ceil((8 * count) / 16);
    return at;
  };
  const columnsAt = room(blocks * size * blockRows);
  const chosenAt = room(size * blockRows);
  const patientsAt = room(blocks * blockRows);
  const scaledAt = room(2 * blockRows);
  const slopesAt = room(size);
  const sumsAt = room(size * size);
  if (end > mostMemory) return undefined;
  const memory = new WebAssembly.Memory({ initial: Math.ceil(end / 65_536) });
  const { exports } = new WebAssembly.Instance(kernel, { env: { memory } });
  const { combine, project, addProducts } = exports as unknown as ProductKernel;
  const view = (at: number, count: number) => new Float64Array(memory.buffer, at, count);
  const blockAt = (block: number) => columnsAt + block * size * bytes;
  const all = new Float64Array(memory.buffer);
  const of = (block: number, place: number) => (blockAt(block) + place * bytes) / 8;
  for (let block = 0; block < blocks; block++) {
    const from = block * blockRows;
    all.fill(1, of(block, 0), of(block, 0) + Math.min(blockRows, patients - from));
    columns.forEach((column, j) => {
      const [mean, factor] = [means[j], factors[j]];
      const rows = Math.min(blockRows, patients - from);
      for (let i = 0, at = of(block, j + 1); i < rows; i++)
        all[at + i] = (column[from + i] - mean) * factor;
    });
  }
  const everybody = view(patientsAt, blocks * blockRows);
  const slopesView = view(slopesAt, size);
  return {
    size,
    combine(slopes, to) {
      slopesView.set(slopes);
      for (let block = 0; block < blocks; block++)
        combine(blockAt(block), slopesAt, patientsAt + block * bytes, blockRows, size);
      to.set(everybody.subarray(0, patients));
    },
    project(values) {
      everybody.set(values);
      const sums = view(sumsAt, size).fill(0);
      for (let block = 0; block < blocks; block++)
        project(blockAt(block), patientsAt + block * bytes, sumsAt, blockRows, size);
      return sums.slice();
    },
    products(weights, places) {
      everybody.set(weights);
      const count = places.length;
      const sums = view(sumsAt, count * count).fill(0);
      const isAll = count === size;
      for (let block = 0; block < blocks; block++) {
        if (!isAll)
          for (let k = 0; k < count; k++) {
            const from = of(block, places[k]);
            all.copyWithin((chosenAt + k * bytes) / 8, from, from + blockRows);
          }
        const at = isAll ? blockAt(block) : chosenAt;
        addProducts(at, patientsAt + block * bytes, scaledAt, sumsAt, blockRows, count);
      }
      return bothHalves(sums.slice(), count);
    },
  };
}

export function plainDesign(inputs: DesignInputs): DesignBlocks {
  const { columns, means, factors, rowCount: patients } = inputs;
  const all = [
    new Float64Array(patients).fill(1),
    ...columns.map((column, j) => column.map((value) => (value - means[j]) * factors[j])),
  ];
  return {
    size: all.length,
    combine(slopes, to) {
      to.fill(0);
      all.forEach((column, j) => {
        for (let i = 0; i < patients; i++) to[i] += slopes[j] * column[i];
      });
    },
    project: (values) => Float64Array.from(all, (column) => product(values, column)),
    products(weights, places) {
      const count = places.length;
      const sums = new Float64Array(count * count);
      places.forEach((place, j) => {
        const weighted = all[place].map((value, i) => value * weights[i]);
        for (let k = 0; k <= j; k++) sums[j * count + k] = product(weighted, all[places[k]]);
      });
      return bothHalves(sums, count);
    },
  };
}

function product(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i] * b[i];
  return sum;
}

function bothHalves(sums: Float64Array, count: number): Float64Array {
  for (let j = 0; j < count; j++)
    for (let k = 0; k < j; k++) sums[k * count + j] = sums[j * count + k];
  return sums;
}
