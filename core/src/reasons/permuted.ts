import { randomStream } from '../numeric/index.ts';
import type { PredictorColumn } from '../preparation/index.ts';
import { rowCountOf, takenRows, type Ask, type AskAltered } from './ask.ts';

/** Predictors that are moved together. */
export interface Moved {
  name: string;
  columns: string[];
}

/** What is said of patients, as they are and with the values of some predictors dealt among them anew. */
export interface Permuted {
  plain: Float64Array;
  /** By group and time. */
  moved: Float64Array[][];
}

/** Groups that are asked about at once, and cells of all that is asked then. */
const atOnce = { groups: 20, cells: 8_000_000 };

/**
 * Deals the values of each group of predictors among the patients anew, and asks about all: what that costs is
 * what these values are worth to the model (Breiman 2001, Machine Learning 45:5-32; Fisher, Rudin & Dominici 2019,
 * Journal of Machine Learning Research 20:177). The patients should be others than the model learned from.
 *
 * @param askAltered where a model can be asked about several alternatives faster than about each
 */
export function askPermuted(
  ask: Ask,
  columns: PredictorColumn[],
  groups: Moved[],
  { times = 5, seed = 1, askAltered = eachAlone(ask) } = {},
): Permuted {
  const rowCount = rowCountOf(columns);
  if (groups.length === 0) return { plain: ask(columns, rowCount), moved: [] };
  const plain = new Float64Array(rowCount);
  const moved = groups.map(() => Array.from({ length: times }, () => new Float64Array(rowCount)));
  for (let first = 0; first < groups.length; first += atOnce.groups) {
    const dealt = groups.slice(first, first + atOnce.groups).flatMap((group, k) =>
      moved[first + k].map((said, time) => ({
        said,
        names: group.columns,
        places: shuffled(rowCount, seed, `${group.name} ${time}`),
      })),
    );
    const rows = Math.max(16, Math.floor(atOnce.cells / (dealt.length * columns.length)));
    for (let from = 0; from < rowCount; from += rows) {
      const here = Int32Array.from({ length: Math.min(rows, rowCount - from) }, (_, i) => from + i);
      const own = columns.map((column) => takenRows(column, here));
      const alternatives = dealt.map(({ names, places }) => {
        const others = places.subarray(from, from + here.length);
        return columns.map((column, j) =>
          names.includes(column.name) ? takenRows(column, others) : own[j],
        );
      });
      // As they are is one alternative more: so all is said by the same way.
      const kept = [...dealt.map(({ said }) => said), ...(first === 0 ? [plain] : [])];
      const asked = first === 0 ? [...alternatives, own] : alternatives;
      askAltered(own, asked, here.length).forEach((said, k) => kept[k].set(said, from));
    }
  }
  return { plain, moved };
}

const eachAlone =
  (ask: Ask): AskAltered =>
  (_, alternatives, rowCount) =>
    alternatives.map((columns) => ask(columns, rowCount));

function shuffled(count: number, seed: number, name: string): Int32Array {
  const draw = randomStream(seed, `permuted ${name}`);
  const places = Int32Array.from({ length: count }, (_, i) => i);
  for (let i = count - 1; i > 0; i--) {
    const other = Math.floor(draw.uniform() * (i + 1));
    [places[i], places[other]] = [places[other], places[i]];
  }
  return places;
}
