import type { PredictorColumn } from '../preparation/index.ts';
import { isCoded } from '../table/index.ts';
import { scoreRows, type Model, type ModelPredictor } from './model.ts';

/** What is known of one patient, by predictor: a number, a level, or null when not known. */
export type PatientValues = Record<string, number | string | null>;

/** What the risk would be if one predictor had another value, all others as they are. */
export interface WhatIf {
  name: string;
  /** Numbers ascending over the range of the development patients; levels in their order. */
  options: { value: number | string; risk: number }[];
}

/** Points along the range of a number. */
const steps = 40;

/** Risk of the event of one patient, between 0 and 1. */
export function scorePatient(model: Model, values: PatientValues): number {
  return scoreRows(model, columnsOf(model, [values]), 1)[0];
}

/** For each predictor, the risks its other values would give; all in one scoring. */
export function whatIfOne(model: Model, values: PatientValues): WhatIf[] {
  const options = model.predictors.map(optionsOf);
  const patients = model.predictors.flatMap(({ name }, i) =>
    options[i].map((value): PatientValues => ({ ...values, [name]: value })),
  );
  const risks = scoreRows(model, columnsOf(model, patients), patients.length);
  let next = 0;
  return model.predictors.map(({ name }, i) => ({
    name,
    options: options[i].map((value) => ({ value, risk: risks[next++] })),
  }));
}

/** The usual patient: medians and most common levels of the development patients. */
export function typicalPatient(model: Model): PatientValues {
  return Object.fromEntries(
    model.predictors.map(
      ({ name, quartiles, levels, levelShares }): [string, number | string | null] => {
        if (quartiles) return [name, quartiles[1]];
        const shares = levelShares ?? [];
        return [name, levels?.[shares.indexOf(Math.max(...shares))] ?? null];
      },
    ),
  );
}

function optionsOf({ kind, levels = [], range }: ModelPredictor): (number | string)[] {
  if (isCoded(kind)) return levels;
  if (!range) return [];
  const [least, greatest] = range;
  return Array.from({ length: steps + 1 }, (_, i) => least + ((greatest - least) * i) / steps);
}

/** A level the model does not know counts as not known, as in a list. */
function columnsOf(model: Model, patients: PatientValues[]): PredictorColumn[] {
  return model.predictors.map(({ name, kind, levels = [] }): PredictorColumn => {
    const values = patients.map((patient) => patient[name]);
    if (isCoded(kind))
      return {
        name,
        type: 'coded',
        levels,
        codes: Int32Array.from(values, (value) => levels.indexOf(String(value))),
      };
    return {
      name,
      type: 'number',
      values: Float64Array.from(values, (value) => (typeof value === 'number' ? value : NaN)),
    };
  });
}
