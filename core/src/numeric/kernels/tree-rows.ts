import { compileWasm, mostMemory } from './compile.ts';
import { wasm } from './tree-rows.wasm.ts';

/**
 * Patients as trees are grown on them: the places of their bins, two numbers a patient, and sums of
 * those by place. Exact, and so the same in any order, as long as the numbers are whole multiples of a
 * step of which no sum holds more than 2^53.
 */
export interface TreeRows {
  /** The patients of nodes side by side; filled by the caller. */
  rows: Int32Array;
  /** Two numbers a patient; filled by the caller. */
  pairs: Float64Array;
  /** Sums by place, two each, of `slots` nodes at once. */
  sums: Float64Array[];
  /** Writes the sums of these patients, rows[from] to rows[to - 1], into a slot. */
  sum(from: number, to: number, slot: number): void;
  /** Takes the sums of one slot from those of another. */
  takeAway(slot: number, part: number): void;
  /**
   * Puts those first of rows[from] to rows[to - 1] whose place in this column goes left, both sides in
   * the order that they had.
   *
   * @param goes 1 for each place that goes left
   * @returns where the others begin
   */
  part(from: number, to: number, column: number, goes: Uint8Array): number;
}

export interface TreeCells {
  /** Patients × columns, row-major: the place of the bin of each, counted through all columns. */
  cells: Uint16Array | Int32Array;
  width: number;
  places: number;
  /** Patients. */
  count: number;
}

/** Compiled where the machine has WebAssembly with SIMD and places are few, else plain; the same bits. */
export const treeRows = (cells: TreeCells, slots: number): TreeRows =>
  compiledTreeRows(cells, slots) ?? plainTreeRows(cells, slots);

interface Kernel {
  addPairs: (
    rows: number,
    count: number,
    cells: number,
    width: number,
    pairs: number,
    sums: number,
  ) => void;
  takeAway: (sums: number, part: number, places: number) => void;
  partRows: (rows: number, count: number, column: number, goes: number, spare: number) => number;
}

/** Undefined where the machine cannot run it, or it does not hold so much. */
export function compiledTreeRows(
  { cells, width, places, count }: TreeCells,
  slots: number,
): TreeRows | undefined {
  const kernel = compileWasm(wasm);
  if (!kernel || !(cells instanceof Uint16Array)) return undefined;
  let end = 1024;
  const room = (bytes: number) => {
    const at = end;
    end += Math.ceil(bytes / 16) * 16;
    return at;
  };
  // One more than there are patients: where a row is written before it is known to belong there.
  const [rowsAt, spareAt] = [room(4 * (count + 1)), room(4 * (count + 1))];
  const [cellsAt, pairsAt, goesAt] = [room(cells.byteLength), room(16 * count), room(places)];
  // Once more column by column: parting patients by one input would else fetch all inputs of each.
  const columnsAt = room(cells.byteLength);
  const sumsAt = Array.from({ length: slots }, () => room(16 * places));
  if (end > mostMemory) return undefined;
  const memory = new WebAssembly.Memory({ initial: Math.ceil(end / 65_536) });
  const { exports } = new WebAssembly.Instance(kernel, { env: { memory } });
  const { addPairs, takeAway, partRows } = exports as unknown as Kernel;
  const { buffer } = memory;
  new Uint16Array(buffer, cellsAt, cells.length).set(cells);
  const byColumn = new Uint16Array(buffer, columnsAt, cells.length);
  for (let column = 0, to = 0; column < width; column++)
    for (let at = column; at < cells.length; at += width) byColumn[to++] = cells[at];
  const goesLeft = new Uint8Array(buffer, goesAt, places);
  const sums = sumsAt.map((at) => new Float64Array(buffer, at, 2 * places));
  return {
    rows: new Int32Array(buffer, rowsAt, count),
    pairs: new Float64Array(buffer, pairsAt, 2 * count),
    sums,
    sum(from, to, slot) {
      sums[slot].fill(0);
      addPairs(rowsAt + 4 * from, to - from, cellsAt, width, pairsAt, sumsAt[slot]);
    },
    takeAway: (slot, part) => takeAway(sumsAt[slot], sumsAt[part], places),
    part(from, to, column, goes) {
      goesLeft.set(goes);
      const begin = columnsAt + 2 * count * column;
      return from + partRows(rowsAt + 4 * from, to - from, begin, goesAt, spareAt);
    },
  };
}

export function plainTreeRows({ cells, width, places, count }: TreeCells, slots: number): TreeRows {
  const rows = new Int32Array(count);
  const spare = new Int32Array(count);
  const pairs = new Float64Array(2 * count);
  const sums = Array.from({ length: slots }, () => new Float64Array(2 * places));
  return {
    rows,
    pairs,
    sums,
    sum(from, to, slot) {
      const own = sums[slot].fill(0);
      for (let i = from; i < to; i++) {
        const row = rows[i];
        const [one, two] = [pairs[2 * row], pairs[2 * row + 1]];
        for (let at = row * width; at < (row + 1) * width; at++) {
          const place = 2 * cells[at];
          own[place] += one;
          own[place + 1] += two;
        }
      }
    },
    takeAway(slot, part) {
      const [own, taken] = [sums[slot], sums[part]];
      for (let k = 0; k < own.length; k++) own[k] -= taken[k];
    },
    part(from, to, column, goes) {
      let middle = from;
      let others = 0;
      for (let i = from; i < to; i++) {
        const row = rows[i];
        if (goes[cells[row * width + column]]) rows[middle++] = row;
        else spare[others++] = row;
      }
      rows.set(spare.subarray(0, others), middle);
      return middle;
    },
  };
}
