import type { Outcome } from '../../outcome/index.ts';
import { takeInputs, type Inputs } from '../../preparation/index.ts';
import { outOfBag, samplesOf, treeCount, type Forest, type ForestTask } from '../../trees/index.ts';
import type { Facet, LossName } from '../facets.ts';
import { permutedImportance } from '../shared/index.ts';
import { bringBack, type ForestAims } from './tasks.ts';

/** Most patients whose losses out of bag are taken along the trees. */
const mostJudged = 20_000;
/** Patients times trees in whom the importance of inputs is tried. */
const mostTried = 400_000;

/** What a forest shows of itself by patients that its trees did not learn from. */
export function forestFacets(
  inputs: Inputs,
  outcome: Outcome,
  aims: ForestAims,
  task: ForestTask,
  { ensemble, gains }: Forest,
): Facet[] {
  const loss: LossName = outcome.kind === 'number' ? 'mean squared error' : 'Brier score';
  const trees = treeCount(ensemble);
  const judged = partOf(inputs, task, mostJudged);
  const at = positions(trees);
  const { width } = aims.leaf;
  const lossOf = (rows: Int32Array) => (i: number, said: Float64Array) => {
    if (aims.standsFor) bringBack(said, width, aims.standsFor);
    return aims.lossOf(rows[i], said);
  };
  const { along } = outOfBag(
    ensemble,
    judged.inputs,
    outOf(task, trees, judged.rows),
    width,
    at,
    lossOf(judged.rows),
  );
  const plain = judged.rows.reduce((sum, row) => sum + aims.lossOf(row, aims.plain), 0);
  const curve: Facet = {
    kind: 'curve',
    value: {
      along: 'trees',
      loss,
      ...withoutGaps(at, along),
      plain: plain / judged.rows.length,
      chosen: trees,
    },
  };
  const tried = partOf(inputs, task, Math.max(200, Math.floor(mostTried / trees)));
  const isOut = outOf(task, trees, tried.rows);
  const heard = tried.rows.filter((_, i) => isAnyOut(isOut, tried.rows.length, i));
  if (heard.length < 2) return [curve];
  const some = takeInputs(inputs, heard);
  const theirs = outOf(task, trees, heard);
  return [
    curve,
    {
      kind: 'importance',
      value: {
        loss,
        patients: heard.length,
        whose: 'out of bag',
        inputs: permutedImportance(
          some,
          (changed) =>
            outOfBag(ensemble, changed, theirs, width, [], (i, said) => aims.lossOf(heard[i], said))
              .losses,
          gains,
          task.seed,
        ),
      },
    },
  ];
}

/** All patients, or so many of them, evenly from an order that is not that of the table. */
function partOf(inputs: Inputs, { order }: ForestTask, most: number) {
  const every = Math.ceil(order.length / most);
  const rows = order.filter((_, i) => i % every === 0).sort();
  return { rows, inputs: takeInputs(inputs, rows) };
}

/** Trees × these patients: 1 where a tree did not learn from a patient. */
function outOf(task: ForestTask, trees: number, rows: Int32Array): Uint8Array {
  const drawn = samplesOf(task);
  const times = new Float64Array(task.order.length);
  const isOut = new Uint8Array(trees * rows.length);
  for (let tree = 0; tree < trees; tree++) {
    drawn(tree, times);
    for (let i = 0; i < rows.length; i++)
      isOut[tree * rows.length + i] = Number(times[rows[i]] === 0);
  }
  return isOut;
}

function isAnyOut(isOut: Uint8Array, rows: number, i: number): boolean {
  for (let at = i; at < isOut.length; at += rows) if (isOut[at] === 1) return true;
  return false;
}

/** The first trees one by one, later ones ever farther apart. */
function positions(trees: number): number[] {
  const at = new Set<number>();
  for (let step = 0; step <= 60; step++) at.add(Math.max(1, Math.round(trees ** (step / 60))));
  return [...at];
}

function withoutGaps(at: number[], values: number[]) {
  const there = [...at.keys()].filter((i) => Number.isFinite(values[i]));
  return {
    at: there.map((i) => at[i]),
    lines: [{ whose: 'out of bag' as const, values: there.map((i) => values[i]) }],
  };
}
