import { FitObstacle, type Settings } from '@rook-scale/core/families';
import { packPredictions, type Outcome, type OutcomeHeader } from '@rook-scale/core/outcome';
import type { FittedPreparation, PredictorColumn } from '@rook-scale/core/preparation';
import {
  readyPart,
  tryFewer,
  tryGrowing,
  tryOnPart,
  type FewerPlan,
  type JudgedBy,
  type ReadyPart,
  type SearchRecipe,
  type TriedOnPart,
} from '@rook-scale/core/search';
import type { FitPart } from '@rook-scale/core/tuning';

/** A few fits of a search for a thread; the typed arrays are in shared memory. */
export interface TryTask {
  /** The same for all that stands on the same patients and columns. */
  key: string;
  predictors: PredictorColumn[];
  outcome: Outcome;
  recipe: SearchRecipe;
  /** Each patient's own costs are of every row of the table. */
  by: JudgedBy;
  /** Predictors are selected in each part, with these settings. */
  fewer?: { plan: FewerPlan; settings: Settings };
  /** Growing shares of the patients are learned from, with these settings. */
  growing?: { settings: Settings; shares: number[] };
  pieces: { number: number; part: FitPart; group: Settings[]; known?: FittedPreparation }[];
}

/** What one fit gave. */
export interface TriedPiece {
  number: number;
  part: string;
  problem?: string;
  /** Of each of the settings, where only some cannot be fitted. */
  problems?: (string | null)[];
  /** Predictors as they were ranked, where they are selected. */
  ranked?: string[];
  development?: (Record<string, number> | null)[];
  header?: OutcomeHeader;
  /** Predictions of each of the settings behind one another. */
  values?: Uint8Array;
  /** What was learned of the part's preparation, where it was not known. */
  preparation?: FittedPreparation;
}

/** Numbers that a thread keeps of parts made ready, of the search it is at: 160 megabytes. */
const mostKept = 20e6;
const ready = new Map<string, ReadyPart>();
let readyFor: string | undefined;

/** Fits pieces one after the other; what they stand on is prepared once a part. */
export function tryPieces(task: TryTask): TriedPiece[] {
  if (readyFor !== task.key) ready.clear();
  readyFor = task.key;
  const { fewer, growing } = task;
  return task.pieces.map((piece) => {
    if (fewer) return selectOnPiece(task, fewer, piece);
    return growing ? growOnPiece(task, growing, piece) : tryPiece(task, piece);
  });
}

function tryPiece(
  { predictors, outcome, recipe, by }: TryTask,
  { number, part, group, known }: TryTask['pieces'][number],
): TriedPiece {
  const before = ready.get(part.name);
  const made = before ?? readyPart(part, predictors, outcome, recipe, known);
  if (!before) keep(part.name, made);
  const named = { number, part: part.name };
  const tried = tryOnPart(made, recipe, group, by);
  if ('problem' in tried) return { ...named, problem: tried.problem };
  return {
    ...named,
    ...packed(tried),
    ...(!before && !known && { preparation: made.ground.preparation }),
  };
}

/** Selects predictors in one part, and fits what was selected where somebody is predicted. */
function selectOnPiece(
  { predictors, outcome, recipe, by }: TryTask,
  fewer: NonNullable<TryTask['fewer']>,
  { number, part }: TryTask['pieces'][number],
): TriedPiece {
  const named = { number, part: part.name };
  try {
    const { ranked, tried } = tryFewer(part, { predictors, outcome, recipe, ...fewer }, by);
    return { ...named, ranked, ...(tried && packedEach(tried)) };
  } catch (error) {
    if (error instanceof FitObstacle) return { ...named, problem: error.message };
    throw error;
  }
}

/** Fits on more and more of the patients of one part. */
function growOnPiece(
  { predictors, outcome, recipe, by }: TryTask,
  growing: NonNullable<TryTask['growing']>,
  { number, part }: TryTask['pieces'][number],
): TriedPiece {
  const tried = tryGrowing(part, { predictors, outcome, recipe, ...growing }, by);
  return { number, part: part.name, ...packedEach(tried) };
}

/** As they are kept, where some may not be fitted. */
function packedEach(
  tried: (TriedOnPart | { problem: string })[],
): Pick<TriedPiece, 'header' | 'values' | 'development' | 'problem' | 'problems'> {
  const isTried = (one: object): one is TriedOnPart => 'predictions' in one;
  const first = tried.find(isTried);
  const problems = tried.map((one) => ('problem' in one ? one.problem : null));
  if (!first) return { problem: problems[0]! };
  return {
    ...(problems.some(Boolean) && { problems }),
    // Of those that cannot be fitted nothing is read, but each has its place.
    ...packed(tried.map((one) => (isTried(one) ? one : { predictions: first.predictions }))),
  };
}

function packed(tried: TriedOnPart[]): Pick<TriedPiece, 'header' | 'values' | 'development'> {
  const each = tried.map(({ predictions }) => packPredictions(predictions));
  const size = each[0].bytes.byteLength;
  const values = new Uint8Array(size * each.length);
  each.forEach(({ bytes }, i) => values.set(bytes, i * size));
  return {
    header: each[0].header,
    values,
    development: tried.map(({ development }) => development ?? null),
  };
}

function keep(name: string, made: ReadyPart): void {
  ready.set(name, made);
  while (ready.size > 1 && sizeOf(ready) > mostKept)
    ready.delete([...ready.keys()].find((one) => one !== name)!);
}

const sizeOf = (parts: Map<string, ReadyPart>): number =>
  [...parts.values()].reduce(
    (sum, { ground: { inputs }, met }) =>
      sum + inputs.columns.length * inputs.rowCount + met.columns.length * met.rowCount,
    0,
  );
