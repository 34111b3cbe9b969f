import type { Outcome } from '../outcome/index.ts';
import { columnsAround, type PredictorColumn } from './preparation.ts';
import type { ArrangedStep, StepId } from './steps/index.ts';
import { countGaps, gapAt, knownOf, lengthOf, meanAndSd, type WorkingColumn } from './working.ts';

/** What a step does to one column and to one patient, in figures that can be drawn. */
export interface StepTrace {
  /** The column before the step, and what stands in its place afterwards; several, or none. */
  before?: Shape;
  after: Shape[];
  /** The columns in which the step changes this patient, or that it makes. */
  patient: { name: string; before: string | null; after: string | null }[];
}

/** How a column lies among the patients. */
export type Shape = { name: string; patients: number; gaps: number } & (
  | { kind: 'number'; from: number; to: number; bins: number[]; mean: number; sd: number }
  | { kind: 'levels'; levels: { level: string; patients: number }[] }
);

const binCount = 30;

/**
 * Learns the steps up to one and shows what that one does.
 *
 * @param place of the step among `steps`, from 0
 * @param column whose shape is shown
 * @param patient place among `rows` of the patient who is shown
 */
export function traceStep(
  predictors: PredictorColumn[],
  rows: ArrayLike<number>,
  outcome: Outcome,
  steps: (ArrangedStep | { step: StepId })[],
  { place, column, patient }: { place: number; column: string; patient: number },
): StepTrace {
  const { before, after } = columnsAround(predictors, rows, outcome, steps, place);
  const own = before.find((one) => one.source === column && one.part === 'value');
  return {
    ...(own && { before: shapeOf(own) }),
    after: after.filter((one) => isMadeOf(one, column)).map(shapeOf),
    patient: changesOf(before, after, patient),
  };
}

const isMadeOf = (one: WorkingColumn, column: string) =>
  one.source === column || one.of?.includes(column) === true;

/** What a column on its way is called. */
function nameOf({ source, part, level, together = [] }: WorkingColumn): string {
  if (part === 'level') return `${source} = ${level}`;
  return part === 'gap' ? `${together.join(', ')} not known` : source;
}

function shapeOf(column: WorkingColumn): Shape {
  const about = { name: nameOf(column), patients: lengthOf(column), gaps: countGaps(column) };
  if (column.type === 'coded') {
    const counts = column.levels.map(() => 0);
    for (const code of column.codes) if (code >= 0) counts[code]++;
    const levels = column.levels.map((level, code) => ({ level, patients: counts[code] }));
    return { ...about, kind: 'levels', levels: levels.filter(({ patients }) => patients > 0) };
  }
  const known = knownOf(column);
  let [from, to] = [Infinity, -Infinity];
  for (const value of known) {
    if (value < from) from = value;
    if (value > to) to = value;
  }
  const bins = new Array<number>(binCount).fill(0);
  const width = to > from ? (to - from) / binCount : 1;
  for (const value of known) bins[Math.min(binCount - 1, Math.floor((value - from) / width))]++;
  if (known.length === 0) [from, to] = [0, 0];
  return { ...about, kind: 'number', from, to, bins, ...meanAndSd(known) };
}

function changesOf(
  before: WorkingColumn[],
  after: WorkingColumn[],
  patient: number,
): StepTrace['patient'] {
  const [was, is] = [before, after].map(
    (columns) => new Map(columns.map((column) => [nameOf(column), textAt(column, patient)])),
  );
  const names = [...new Set([...was.keys(), ...is.keys()])];
  return names.flatMap((name) => {
    const [one, other] = [was.get(name) ?? null, is.get(name) ?? null];
    return one === other && was.has(name) === is.has(name)
      ? []
      : [{ name, before: one, after: other }];
  });
}

function textAt(column: WorkingColumn, row: number): string {
  if (row >= lengthOf(column) || gapAt(column)(row)) return 'not known';
  if (column.type === 'coded') return column.levels[column.codes[row]];
  return String(Number(column.values[row].toPrecision(5)));
}
