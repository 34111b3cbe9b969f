import { effectsLike, fillingsOf, readsColumn, type EffectOf } from '../preparation/index.ts';
import { readScore } from '../outcome/index.ts';
import type { AlignedPredictor, Alignment } from './align.ts';
import { familyOf, preparationsWithin } from '../families/index.ts';
import type { Model } from '../model/index.ts';
import { inputsRead, usedPredictors } from './inputs.ts';
import { caseScoresOf, typicalPatient } from './one-patient.ts';

/** Says for each predictor of an alignment what scoring does about gaps, new levels and far values. */
export function describeTreatments(model: Model, { predictors, columns }: Alignment) {
  const rows = columns[0] === undefined ? 0 : rowsOf(columns[0]);
  const effects = gapEffects(
    model,
    predictors.filter((one) => one.absent || one.gaps > 0 || one.newLevels.length > 0),
  );
  const filled = fillingsOf(model.preparation);
  const kept = keptGaps(model);
  const used = usedPredictors(model);
  return predictors.map((one): AlignedPredictor => {
    if (!used.has(one.name)) return { ...one, isUnused: true, treatment: 'not used by the model' };
    return {
      ...one,
      treatment: treatmentOf(model, one, rows, effects, filled.get(one.name), kept),
    };
  });
}

function treatmentOf(
  model: Model,
  report: AlignedPredictor,
  rows: number,
  effects: Map<string, string>,
  filling: EffectOf<'filled'> | undefined,
  kept: Set<string>,
): string {
  const fill =
    model.preparation.steps.length === 0
      ? 'the rule gives nothing without it, so they are not scored'
      : isComposed(model)
        ? takenByParts(model)
        : kept.has(report.name)
          ? 'go the way of development patients without it'
          : fillText(filling);
  const parts: string[] = [];
  if (report.absent) parts.push(`not in the file: all ${rows} rows ${fill}`);
  if (report.gaps > 0) parts.push(`${report.gaps} not known: ${fill}`);
  for (const { level, rows: count } of report.newLevels)
    parts.push(`${count} with the new level "${level}": treated as not known, ${fill}`);
  const effect = effects.get(report.name);
  if (effect) parts.push(effect);
  const clip = effectsLike(model.preparation, 'clipped').find(
    ({ column }) => column === report.name,
  );
  const isClipped = !clip && isComposed(model) && clipsWithin(model, report.name);
  // Nobody is scored on a column in another unit before that is agreed to.
  const isDisplaced = report.unfamiliar.some(({ what }) => what === 'displaced');
  const used = (end: number | null | undefined) => {
    if (isDisplaced) return 'used as they are once you agree';
    if (isClipped) return takenByParts(model);
    return end == null ? 'used as they are' : `taken as ${short(end)}`;
  };
  if (report.below > 0)
    parts.push(`${report.below} below ${short(report.range![0])}: ${used(clip?.low)}`);
  if (report.above > 0)
    parts.push(`${report.above} above ${short(report.range![1])}: ${used(clip?.high)}`);
  return parts.join('; ');
}

const isComposed = ({ family }: Model) => familyOf(family.id).description.composed !== undefined;

const takenByParts = ({ family }: Model) =>
  familyOf(family.id).description.composed === 'of one'
    ? 'the candidate that is recalibrated takes them its own way'
    : 'each part of the blend takes them its own way';

const clipsWithin = ({ family }: Model, name: string) =>
  preparationsWithin(family.saved).some((preparation) =>
    effectsLike(preparation, 'clipped').some(({ column }) => column === name),
  );

/** What "not known" itself does to the risk of the usual patient, in words, by predictor. */
function gapEffects(model: Model, predictors: AlignedPredictor[]): Map<string, string> {
  const groups = effectsLike(model.preparation, 'gap marked');
  const kept = keptGaps(model);
  const asked = predictors.flatMap(({ name }) => {
    const group = groups.find(({ columns }) => columns.includes(name));
    if (!group && kept.has(name)) return [{ name, columns: [name] }];
    return group ? [{ name, columns: group.columns }] : [];
  });
  const effects = new Map<string, string>();
  const filled = fillingsOf(model.preparation);
  for (const { name } of predictors)
    if (!asked.some((one) => one.name === name) && isUsed(filled.get(name)))
      effects.set(name, 'that it is not known does not count by itself');
  if (asked.length === 0) return effects;
  const usual = typicalPatient(model);
  const [known, ...others] = caseScoresOf(model, [
    usual,
    ...asked.map(({ columns }) => ({
      ...usual,
      ...Object.fromEntries(columns.map((column) => [column, null])),
    })),
  ]);
  asked.forEach(({ name, columns }, i) => {
    const what = columns.length > 1 ? `${columns.join(', ')} not known together` : '"not known"';
    const isInput = kept.has(name) ? 'is taken as it is' : 'is an input of its own';
    effects.set(
      name,
      `${what} ${isInput}: it takes the usual patient from ${showScore(model, known)} to ${showScore(model, others[i])}`,
    );
  });
  return effects;
}

/** Columns whose gaps go into the model as they are, of those that it asks for. */
function keptGaps(model: Model): Set<string> {
  const filled = fillingsOf(model.preparation);
  const read = inputsRead(model);
  return new Set(
    effectsLike(model.preparation, 'gap kept').flatMap(({ column }) =>
      filled.has(column) || !read.some((input) => readsColumn(input, column)) ? [] : [column],
    ),
  );
}

const isUsed = (filling: EffectOf<'filled'> | undefined) =>
  (filling?.number ?? filling?.level ?? null) !== null;

function fillText(filling: EffectOf<'filled'> | undefined): string {
  if (!filling || !isUsed(filling)) return 'not used by the model';
  const { number, level, how } = filling;
  if (how === 'chained regressions') return 'filled with what regressions on the others say';
  if (how === 'nearest patients') return 'filled from the nearest development patients';
  if (how === 'own level') return 'taken as a level of its own';
  const value = number == null ? level! : short(number);
  if (how === 'constant') return `filled with ${value}`;
  if (number == null) return `filled with the most common level, ${value}`;
  return `filled with the ${how === 'mean' ? 'mean' : how === 'most common' ? 'most common value' : 'median'} ${value}`;
}

function rowsOf(column: Alignment['columns'][number]): number {
  return column.type === 'number' ? column.values.length : column.codes.length;
}

/** A risk or share with three decimals, a number with its unit. */
function showScore({ outcome }: Model, score: number): string {
  if (outcome.choice.kind !== 'number') return score.toFixed(3);
  return `${short(readScore(score, outcome.cases))}${outcome.unit && ` ${outcome.unit}`}`;
}

/** At most four significant digits, which is what a lab value carries. */
function short(value: number): string {
  return String(Number(value.toPrecision(4)));
}
