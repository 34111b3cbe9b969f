import { compileWasm, mostMemory } from './compile.ts';
import { wasm } from './distances.wasm.ts';

/** Points that stand together, and are passed over together where their box is too far away. */
export const pointsABlock = 32;

/** With more columns boxes are so wide that hardly one is passed over. */
export const columnsInBoxes = 12;

/** Points, and how they are compared. */
export interface PointTable {
  count: number;
  columns: number;
  /** Point after point; NaN where a value is not known. */
  values: Float64Array;
  /** Points in the order in which they stand in blocks. */
  order: Int32Array;
  by: 'squares' | 'absolutes';
  /** Some values are not known: sums are of what both know, and as if they were of all. */
  gaps: boolean;
  /** How much each column counts of what two points must both know. */
  shares: Float64Array;
}

/** Rough distances, in single precision, of one point to all others. */
export interface DistanceRoom {
  /** Where the point is written, by column. */
  point: Float32Array;
  /** Places in the order, and distances, of those found so far; `found` of them. */
  places: Int32Array;
  distances: Float32Array;
  found: number;
  blocks: number;
  /** The block whose box is nearest to the point; the first where boxes are not looked at. */
  nearestBlock(): number;
  /**
   * Adds the points of these blocks that come within the limit, and returns the block where the room ended.
   *
   * @param known columns whose value the point has
   * @param enough of these, what another must know too
   */
  scan(from: number, to: number, limit: number, known: Int32Array, enough: number): number;
}

type Scan = (...numbers: number[]) => number;

/** Undefined where the machine cannot run it, or has not the memory. */
export function distanceRoom(table: PointTable): DistanceRoom | undefined {
  const kernel = compileWasm(wasm);
  const { count, columns, gaps } = table;
  const blocks = Math.ceil(count / pointsABlock);
  // Two numbers a point may be written, each time the room is emptied.
  const room = 8 * Math.max(4096, 2 * count);
  const pointAt = 4096;
  const chosenAt = pointAt + 16 * Math.ceil(columns / 4);
  const sharesAt = chosenAt + 16 * Math.ceil(columns / 4);
  const foundAt = sharesAt + 16 * Math.ceil(columns / 4);
  const hasBoxes = !gaps && columns <= columnsInBoxes;
  const boxesAt = foundAt + room + 8 * pointsABlock;
  const blocksAt = boxesAt + (hasBoxes ? 16 * Math.ceil((blocks * columns) / 2) : 0);
  const end = blocksAt + blocks * columns * pointsABlock * (gaps ? 8 : 4);
  if (!kernel || columns === 0 || end > mostMemory) return undefined;
  const memory = new WebAssembly.Memory({ initial: Math.ceil(end / 65536) });
  const { exports } = new WebAssembly.Instance(kernel, { env: { memory } });
  const kernels = exports as unknown as Record<string, Scan>;
  const { buffer } = memory;
  const stateAt = 1024;
  const state = new Int32Array(buffer, stateAt, 1);
  const point = new Float32Array(buffer, pointAt, columns);
  const chosen = new Int32Array(buffer, chosenAt, columns);
  new Float32Array(buffer, sharesAt, columns).set(table.shares);
  const boxes = new Float32Array(buffer, boxesAt, hasBoxes ? 2 * blocks * columns : 0);
  fill(table, new Float32Array(buffer, blocksAt, (end - blocksAt) / 4), boxes);
  const whole = table.shares.reduce((sum, one) => sum + one, 0);
  const found = new DataView(buffer, foundAt);
  const places = new Int32Array(room / 8 + pointsABlock);
  const distances = new Float32Array(places.length);
  const by = table.by === 'squares' ? kernels.squares : kernels.absolutes;
  const gapped = table.by === 'squares' ? kernels.gappedSquares : kernels.gappedAbsolutes;
  const result: DistanceRoom = {
    point,
    places,
    distances,
    found: 0,
    blocks,
    nearestBlock: () => (hasBoxes ? nearestBox(point, boxes, blocks) : 0),
    scan(from, to, limit, known, enough) {
      const free = foundAt + room - 8 * result.found;
      let reached: number;
      if (gaps) {
        chosen.set(known);
        const own = known.length;
        // prettier-ignore
        reached = gapped(pointAt, chosenAt, sharesAt, own, blocksAt, columns, from, to, whole, enough, limit, foundAt, free, stateAt);
      } else
        // prettier-ignore
        reached = by(pointAt, blocksAt, hasBoxes ? boxesAt : 0, columns, from, to, limit, foundAt, free, stateAt);
      const written = (state[0] - foundAt) / 8;
      for (let i = 0; i < written; i++) {
        places[result.found] = found.getInt32(8 * i, true);
        distances[result.found++] = found.getFloat32(8 * i + 4, true);
      }
      return reached;
    },
  };
  return result;
}

function fill(
  { count, columns, values, order, gaps }: PointTable,
  blocks: Float32Array,
  boxes: Float32Array,
): void {
  const step = gaps ? 2 * pointsABlock : pointsABlock;
  // Nobody is as far away as those who only fill a block up.
  if (!gaps) blocks.fill(Infinity);
  for (let at = 0; at < boxes.length; at += 2) {
    boxes[at] = Infinity;
    boxes[at + 1] = -Infinity;
  }
  for (let place = 0; place < count; place++) {
    const block = Math.floor(place / pointsABlock);
    for (let j = 0; j < columns; j++) {
      const value = values[order[place] * columns + j];
      const at = (block * columns + j) * step + (place % pointsABlock);
      const isKnown = value === value;
      blocks[at] = isKnown ? value : 0;
      if (gaps) blocks[at + pointsABlock] = isKnown ? 1 : 0;
      if (!isKnown || boxes.length === 0) continue;
      const box = 2 * (block * columns + j);
      if (blocks[at] < boxes[box]) boxes[box] = blocks[at];
      if (blocks[at] > boxes[box + 1]) boxes[box + 1] = blocks[at];
    }
  }
}

function nearestBox(point: Float32Array, boxes: Float32Array, blocks: number): number {
  const columns = point.length;
  let nearest = 0;
  let least = Infinity;
  for (let block = 0; block < blocks; block++) {
    let sum = 0;
    for (let j = 0; j < columns; j++) {
      const at = 2 * (block * columns + j);
      const away = Math.max(boxes[at] - point[j], point[j] - boxes[at + 1], 0);
      sum += away * away;
    }
    if (sum < least) {
      least = sum;
      nearest = block;
    }
  }
  return nearest;
}
