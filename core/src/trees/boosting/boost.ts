import { randomStream, treeRows } from '../../numeric/index.ts';
import type { Outcome } from '../../outcome/index.ts';
import type { Binned } from '../binned.ts';
import { EnsembleBuilder, type Ensemble } from '../ensemble.ts';
import { growGradientTree, slotsFor, type GradientTreeRules } from './grow.ts';
import { boostLoss, type MeanLoss } from './losses.ts';

export interface BoostRules extends GradientTreeRules {
  rounds: number;
  /** Shares of patients and of inputs that each round is learned from, above 0 up to 1. */
  rowShare: number;
  columnShare: number;
  /** Score that trees begin from; what fits all patients best where absent. */
  start?: number;
}

export interface BoostTask {
  binned: Binned;
  outcome: Outcome;
  weights?: Float64Array;
  /** 1 for patients whose loss is watched and from whom nothing is learned. */
  watched?: Uint8Array;
  /** Rounds without a lower loss of the watched after which no more are grown. */
  patience?: number;
  /** An order of patients that does not depend on that in the table, for drawing among them; needed where rows are drawn. */
  order?: Int32Array;
  /** An order of inputs likewise. */
  columnOrder?: Int32Array;
  seed: number;
  /** Called after each round with what is done and the losses until then. */
  progress?: (share: number, losses: MeanLoss[]) => void;
}

export interface Boosted {
  ensemble: Ensemble;
  /** Scores before any tree, one a group; trees stand by round and in each by group. */
  start: Float64Array;
  /** Before any round and after each. */
  losses: MeanLoss[];
  /** Rounds after which the loss of the watched is least; 0 where none are watched. */
  best: number;
  /** What each input gained in all rounds. */
  gains: Float64Array;
}

/** Boosted trees: each round grows trees on what those before leave unexplained. */
export function boost(task: BoostTask, rules: BoostRules): Boosted {
  const { binned, outcome, weights, watched, patience, seed, progress } = task;
  const { rowCount, columns, offsets, cells } = binned;
  const { everybody, learning } = learningFirst(rowCount, watched);
  const loss = boostLoss(outcome, { watched, weights });
  const { groups, scores } = loss;
  const start = rules.start === undefined ? loss.start : loss.start.fill(rules.start);
  for (let row = 0; row < rowCount; row++) scores.set(start, row * groups);
  const at = treeRows(
    { cells, width: columns.length, places: offsets[columns.length], count: rowCount },
    slotsFor(rules.depth),
  );
  const losses = [loss.look(at.pairs)];
  const builder = new EnsembleBuilder();
  const gains = new Float64Array(columns.length);
  const grown = { binned, rules, at, builder, gains };
  const draw = randomStream(seed, 'boosting');
  const order = task.order?.filter((row) => watched?.[row] !== 1);
  const columnOrder = task.columnOrder ?? columns.map((_, j) => j);
  let best = 0;
  // Without any input there is nothing to ask.
  const rounds = columns.length > 0 ? rules.rounds : 0;
  for (let round = 0; round < rounds; round++) {
    const drawn = drawRows();
    const asked = drawColumns();
    for (let group = 0; group < groups; group++) {
      if (group > 0) loss.derivatives(group, at.pairs);
      at.rows.set(drawn.rows);
      growGradientTree(grown, drawn.learning, asked, (value, from, to) =>
        addTo(scores, at.rows, from, to, groups, group, value),
      );
    }
    losses.push(loss.look(at.pairs));
    if (watched && losses[round + 1].watched < losses[best].watched) best = round + 1;
    progress?.((round + 1) / rules.rounds, losses);
    if (watched && patience && round + 1 - best >= patience) break;
  }
  return { ensemble: builder.made(), start, losses, best, gains };

  /** Those a round is learned from, in ascending order, and behind them all others. */
  function drawRows(): { rows: Int32Array; learning: number } {
    const wanted = Math.max(1, Math.round(rules.rowShare * learning));
    if (wanted >= learning || !order) return { rows: everybody, learning };
    const isIn = new Uint8Array(rowCount);
    let left = wanted;
    // Each in turn with the chance that exactly so many are drawn (Knuth, volume 2, algorithm S).
    for (let i = 0; i < order.length && left > 0; i++)
      if (draw.uniform() * (order.length - i) < left) {
        isIn[order[i]] = 1;
        left--;
      }
    const drawn = new Int32Array(rowCount);
    let [inside, outside] = [0, wanted];
    for (let row = 0; row < rowCount; row++) drawn[isIn[row] ? inside++ : outside++] = row;
    return { rows: drawn, learning: wanted };
  }

  function drawColumns(): Int32Array {
    const wanted = Math.max(1, Math.round(rules.columnShare * columns.length));
    if (wanted >= columns.length) return Int32Array.from(columns, (_, j) => j);
    const chosen: number[] = [];
    for (let i = 0; i < columns.length; i++)
      if (draw.uniform() * (columns.length - i) < wanted - chosen.length)
        chosen.push(columnOrder[i]);
    return Int32Array.from(chosen).sort();
  }
}

/** All patients in ascending order, those who are watched behind those that are learned from. */
function learningFirst(
  rowCount: number,
  watched: Uint8Array | undefined,
): { everybody: Int32Array; learning: number } {
  const everybody = new Int32Array(rowCount);
  let learning = 0;
  for (let row = 0; row < rowCount; row++) if (watched?.[row] !== 1) everybody[learning++] = row;
  let next = learning;
  for (let row = 0; next < rowCount; row++) if (watched?.[row] === 1) everybody[next++] = row;
  return { everybody, learning };
}

/** Adds what a leaf says to the scores of its patients. */
function addTo(
  scores: Float64Array,
  rows: Int32Array,
  from: number,
  to: number,
  groups: number,
  group: number,
  value: number,
): void {
  for (let i = from; i < to; i++) scores[rows[i] * groups + group] += value;
}
