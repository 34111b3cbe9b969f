import { familyOf } from '../families/index.ts';
import {
  effectsLike,
  effectsOf,
  fewest,
  fillingsOf,
  readsColumn,
  type PredictorColumn,
} from '../preparation/index.ts';
import { isMissing, type CodedColumn } from '../table/index.ts';
import type { Model, ModelPredictor } from '../model/index.ts';
import { displacedColumn, isPositive, type Displaced } from './displaced.ts';
import { inputsRead } from './inputs.ts';

/** Values of one predictor that hardly any development patient had: the risks rest on guesswork. */
export interface Unfamiliar {
  /**
   * Missing; a level; a number more than one SD beyond what the development patients had; a number of a column
   * that lies elsewhere as a whole.
   */
  what: 'gap' | 'level' | 'beyond' | 'displaced';
  /** Of a displaced column: how it lies beside the development patients. */
  displaced?: Displaced;
  level?: string;
  /** Of a gap: a column that is known here, and was hardly ever known where this one was not. */
  besides?: string;
  /** Development patients who had it. */
  then: number;
  /** Rows that have it. */
  rows: number;
}

/** What was found in one predictor; `rows` is 1 where a row has one of them. */
export interface Found {
  found: Unfamiliar[];
  rows?: Uint8Array;
}

/**
 * For each predictor, the values fewer development patients had than an input needs
 * (`fewest.patients`). A predictor that no input of the model reads is passed over.
 *
 * @param columns aligned to the model
 * @param given for predictors with new levels, the column as the cohort has it
 */
export function findUnfamiliar(
  model: Model,
  columns: PredictorColumn[],
  given: (CodedColumn | undefined)[],
): Found[] {
  // A rule learned nothing from anybody.
  if (familyOf(model.family.id).description.fixed)
    return model.predictors.map(() => ({ found: [] }));
  const inputs = inputsRead(model);
  const groups = effectsLike(model.preparation, 'gap marked');
  const fillings = fillingsOf(model.preparation);
  const kept = new Map(
    effectsLike(model.preparation, 'gap kept').map(({ column, gaps }) => [column, gaps]),
  );
  // Of several steps that fill gaps each says its own.
  const companionsOf = new Map<string, { column: string; without: number }[]>();
  for (const { column, others } of effectsLike(model.preparation, 'gap companions')) {
    const known = companionsOf.get(column) ?? [];
    const fresh = others.filter((one) => !known.some((other) => other.column === one.column));
    companionsOf.set(column, [...known, ...fresh]);
  }
  return model.predictors.map((predictor, i) => {
    const { name } = predictor;
    const group = groups.find((one) => one.columns.includes(name));
    if (!group && !inputs.some((input) => readsColumn(input, name))) return { found: [] };
    const column = columns[i];
    const marks = new Marks(rowsOf(column));
    const gaps = fillings.get(name)?.gaps ?? kept.get(name) ?? 0;
    const companions = (companionsOf.get(name) ?? []).flatMap((one) => {
      const other = columns.find((candidate) => candidate.name === one.column);
      return other ? [{ ...one, other }] : [];
    });
    const strange = given[i];
    const known = levelCounts(model, predictor);
    const least = leastWithValue(model, name);
    const displaced =
      column.type === 'number' ? displacedColumn(predictor, column.values) : undefined;
    for (let row = 0; row < marks.rows.length; row++) {
      if (strange && strange.codes[row] >= 0) {
        const level = strange.levels[strange.codes[row]];
        const then = known.get(level) ?? 0;
        if (then < fewest.patients) marks.add(row, { what: 'level', level, then });
      } else if (isMissing(column, row)) {
        if (gaps < fewest.patients) marks.add(row, { what: 'gap', then: gaps });
        else {
          const alone = companions.find(({ other }) => !isMissing(other, row));
          if (alone) marks.add(row, { what: 'gap', then: alone.without, besides: alone.column });
        }
      } else if (column.type === 'coded') {
        const level = column.levels[column.codes[row]];
        const then = known.get(level) ?? 0;
        if (then < fewest.patients) marks.add(row, { what: 'level', level, then });
      } else if (displaced) marks.add(row, { what: 'displaced', displaced, then: 0 });
      else if (isFarOut(predictor, column.values[row]) || column.values[row] < least)
        marks.add(row, { what: 'beyond', then: 0 });
    }
    return marks.found.size > 0
      ? { found: [...marks.found.values()], rows: marks.rows }
      : { found: [] };
  });
}

/** Rows that are marked, with what was found in them. */
class Marks {
  readonly rows: Uint8Array;
  readonly found = new Map<string, Unfamiliar>();

  constructor(count: number) {
    this.rows = new Uint8Array(count);
  }

  add(row: number, what: Omit<Unfamiliar, 'rows'>): void {
    this.rows[row] = 1;
    const key = `${what.what} ${what.level ?? what.besides ?? ''}`;
    const known = this.found.get(key);
    if (known) known.rows++;
    else this.found.set(key, { ...what, rows: 1 });
  }
}

function levelCounts({ development }: Model, { gapShare, levels, levelShares }: ModelPredictor) {
  const known = development.patients * (1 - gapShare);
  return new Map(
    (levels ?? []).map((level, i) => [level, Math.round((levelShares?.[i] ?? 1) * known)]),
  );
}

/** Below it the function that reshapes a number has no value, unless it is clipped before. */
function leastWithValue({ preparation }: Model, name: string): number {
  const own = effectsOf(preparation).filter(({ column }) => column === name);
  for (const effect of own) {
    if (effect.what === 'clipped' && (effect.low ?? 0) > 0) return -Infinity;
    if (effect.what !== 'reshaped' || effect.how === 'Yeo–Johnson') continue;
    return effect.how === 'square root' ? 0 : Number.MIN_VALUE;
  }
  return -Infinity;
}

/** On the scale of the values, or, where all development values are positive, below them on the logarithmic scale. */
function isFarOut({ range, sd, quartiles }: ModelPredictor, value: number): boolean {
  if (!range || !sd) return false;
  if (value < range[0] - sd || value > range[1] + sd) return true;
  if (!isPositive(range) || !quartiles || value >= range[0]) return false;
  // The quartiles of a normal distribution are 1.349 SD apart.
  const logSd = Math.log(quartiles[2] / quartiles[0]) / 1.349;
  return logSd > 0 && !(value > 0 && Math.log(value) >= Math.log(range[0]) - logSd);
}

function rowsOf(column: PredictorColumn): number {
  return column.type === 'number' ? column.values.length : column.codes.length;
}
