import {
  blended,
  learnRiskMap,
  movedRisk,
  recalibrated,
  type FitContext,
  type FitResult,
  type HowMoved,
  type RecalibrationShown,
  type RiskMap,
} from '../families/index.ts';
import { numbersOf, type Outcome } from '../outcome/index.ts';
import type { FitPart, Ground } from './ground.ts';
import { fitOne, innerSplits, joined, truthOf, type ComposedRecipe } from './left-out.ts';

/**
 * Fits a candidate on those who are learned from, and moves its risks to where they come true: by what it
 * says of each fold of them when it is fitted without that fold. So nobody whom it predicts has a say in
 * where risks are moved.
 */
export function learnRecalibrated(
  part: Pick<FitPart, 'learnRows' | 'learnFolds'>,
  { used }: Ground,
  outcome: Outcome,
  recipe: ComposedRecipe,
  told: Pick<FitContext, 'progress'> = {},
): FitResult & { correction: undefined } {
  const [one] = recipe.parts;
  const how = recipe.settings.how as HowMoved;
  const splits = innerSplits(part, 'Where risks are to be moved is');
  let done = 0;
  const fit = (rows: Int32Array) => {
    const fitted = fitOne(one, used, rows, outcome);
    told.progress?.(++done / (splits.length + 1));
    return fitted;
  };
  const saidBySplit = splits.map(({ learnRows, predictRows }) =>
    numbersOf(fit(learnRows).predict(predictRows)),
  );
  const truthBySplit = splits.map(({ predictRows }) => truthOf(outcome, predictRows).values);
  const [said, truth] = [joined(saidBySplit), joined(truthBySplit)];
  const map = learnRiskMap(how, said, truth) ?? null;
  const moved = movedByOthers(how, saidBySplit, truthBySplit);
  const whole = fit(part.learnRows).as(one.name, 1);
  return {
    fitted: recalibrated(
      blended(
        [whole.fitted],
        used.map(({ name }) => name),
      ),
      map,
    ),
    correction: undefined,
    size: whole.size,
    warnings: whole.warnings,
    describe: () => ({
      facets: [{ kind: 'recalibration', value: shown(recipe, said, truth, moved, map) }],
      warnings: map
        ? []
        : [
            {
              code: 'not converged',
              sentence: `${one.name} tells cases from others without an error, or saw no case: its risks are left as they are.`,
            },
          ],
    }),
  };
}

/**
 * The risks of each split, moved by the map that the other splits give: a map looks better in the patients that
 * it was learned from.
 */
function movedByOthers(how: HowMoved, said: Float64Array[], truth: Float64Array[]): Float64Array {
  return joined(
    said.map((own, split) => {
      const others = <T>(all: T[]) => all.filter((_, other) => other !== split);
      const map = learnRiskMap(how, joined(others(said)), joined(others(truth)));
      return map ? own.map((risk) => movedRisk(map, risk)) : own;
    }),
  );
}

/** Points that a line is drawn through. */
const drawn = 40;

function shown(
  { parts: [{ name, recipe }], settings }: ComposedRecipe,
  said: Float64Array,
  truth: Float64Array,
  moved: Float64Array,
  map: RiskMap | null,
): RecalibrationShown {
  const clipped = map?.kind === 'line' ? clippedBy(map.farthest, said) : undefined;
  return {
    how: settings.how as HowMoved,
    name,
    family: recipe.family,
    patients: said.length,
    cases: truth.reduce((sum, one) => sum + one, 0),
    before: lossesOf(said, truth),
    after: lossesOf(moved, truth),
    ...(map?.kind === 'line' && { line: { constant: map.constant, slope: map.slope } }),
    ...(clipped && clipped.patients > 0 && { clipped }),
    points: map ? pointsOf(map, said) : [],
  };
}

/** Risks so near 0 or 1 that they are taken as the limit. */
function clippedBy(farthest: number, said: Float64Array): { least: number; patients: number } {
  const least = 1 / (1 + Math.exp(farthest));
  // Rounding of the limit itself takes nobody in.
  const isBeyond = (risk: number) => Math.min(risk, 1 - risk) < least * (1 - 1e-9);
  return { least, patients: said.filter(isBeyond).length };
}

/** Risks and what they become, from the lowest that was told to the highest. */
function pointsOf(map: RiskMap, said: Float64Array): [number, number][] {
  if (map.kind === 'steps') return map.at.map((at, i) => [at, map.to[i]]);
  const [from, to] = said.reduce(
    ([least, most], risk) => [Math.min(least, risk), Math.max(most, risk)],
    [1, 0],
  );
  return Array.from({ length: drawn + 1 }, (_, i) => {
    const risk = from + ((to - from) * i) / drawn;
    return [risk, movedRisk(map, risk)];
  });
}

function lossesOf(risks: Float64Array, truth: Float64Array) {
  let [brier, logLoss] = [0, 0];
  risks.forEach((risk, i) => {
    brier += (risk - truth[i]) ** 2;
    logLoss -= Math.log(truth[i] === 1 ? risk : 1 - risk);
  });
  return {
    told: risks.reduce((sum, risk) => sum + risk, 0) / risks.length,
    brier: brier / risks.length,
    // JSON knows no infinity.
    logLoss: Number.isFinite(logLoss) ? logLoss / risks.length : null,
  };
}
