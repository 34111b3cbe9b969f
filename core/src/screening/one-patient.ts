import { caseScores } from '../outcome/index.ts';
import type { PredictorColumn } from '../preparation/index.ts';
import { isCoded, isMissing } from '../table/index.ts';
import { alignColumns } from './align.ts';
import { inputsBehind, modelInputs } from './inputs.ts';
import {
  neighboursIn,
  scoreRows,
  type Model,
  type ModelPredictor,
  type Scored,
} from '../model/index.ts';
import { findUnfamiliar, type Unfamiliar } from './unfamiliar.ts';

/** What is known of one patient, by input of the model: a number, a level, or null when not known. */
export type PatientValues = Record<string, number | string | null>;

/** What the score would be if one predictor had another value, all others as they are. */
export interface WhatIf {
  name: string;
  /** Numbers ascending over the range of the development patients; levels in their order. */
  options: { value: number | string; score: number }[];
}

/** Points along the range of a number. */
const steps = 40;

/** What the model says of one patient. */
export function scorePatient(model: Model, values: PatientValues): Scored {
  return scoreRows(model, patientColumns(model, [values]), 1);
}

/** Development patients by whom one patient is judged, where the family judges so. */
export const neighboursOf = (model: Model, values: PatientValues) =>
  neighboursIn(model, patientColumns(model, [values]));

/** What is not known of one patient and must be, for these predictors: of a derived one, what it reads. */
export function lackingOf(model: Model, values: PatientValues, needed: string[]): ModelPredictor[] {
  const columns = patientColumns(model, [values]);
  const lacking = model.predictors.filter(({ name }) => {
    const column = columns.find((one) => one.name === name);
    return column !== undefined && needed.includes(name) && isMissing(column, 0);
  });
  return lacking.flatMap((predictor) => {
    const unknown = inputsBehind(model, predictor.name).filter(
      ({ name }) => (values[name] ?? null) === null,
    );
    // All is known, and yet nothing comes of it, such as a division by zero.
    return unknown.length > 0 ? unknown : [predictor];
  });
}

/** How much each of several patients is taken for a case. */
export function caseScoresOf(model: Model, patients: PatientValues[]): Float64Array {
  const { predictions } = scoreRows(model, patientColumns(model, patients), patients.length);
  return caseScores(predictions, model.outcome.cases);
}

/** What of one patient hardly any development patient had, by predictor of the model. */
export function unfamiliarOf(
  model: Model,
  values: PatientValues,
): { name: string; label: string; what: Unfamiliar }[] {
  const columns = patientColumns(model, [values]);
  const found = findUnfamiliar(
    model,
    columns,
    columns.map(() => undefined),
  );
  return model.predictors.flatMap(({ name, label }, i) =>
    found[i].found.map((what) => ({ name, label, what })),
  );
}

/** For each predictor, how much its other values would make the patient a case; all in one scoring. */
export function whatIfOne(model: Model, values: PatientValues): WhatIf[] {
  const inputs = modelInputs(model);
  const options = inputs.map(optionsOf);
  const patients = inputs.flatMap(({ name }, i) =>
    options[i].map((value): PatientValues => ({ ...values, [name]: value })),
  );
  const scores = caseScoresOf(model, patients);
  let next = 0;
  return inputs.map(({ name }, i) => ({
    name,
    options: options[i].map((value) => ({ value, score: scores[next++] })),
  }));
}

/** The usual patient: medians and most common levels of the development patients. */
export function typicalPatient(model: Model): PatientValues {
  return Object.fromEntries(
    modelInputs(model).map(
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

/** Predictors of patients by hand. A level the model does not know counts as not known, as in a list. */
export function patientColumns(model: Model, patients: PatientValues[]): PredictorColumn[] {
  const inputs = modelInputs(model);
  const columns = inputs.map(({ name, kind, levels = [] }): PredictorColumn => {
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
  // Without derived columns these are the predictors already, in their order.
  if (inputs.length === model.predictors.length && model.sources.length === 0) return columns;
  const dictionary = inputs.map((input) => ({ ...input, role: 'predictor' as const }));
  return alignColumns(model, { rowCount: patients.length, dictionary, columns }).columns;
}
