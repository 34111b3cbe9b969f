import type { Model } from '@rook-scale/core/model';
import { isCalledAt } from '@rook-scale/core/outcome';
import type { PredictorColumn } from '@rook-scale/core/preparation';
import {
  askOf,
  columnNamed,
  explain,
  explainer,
  inLevelsOf,
  isOrderCertain,
  isKnown,
  mostSimilar,
  smallestChanges,
  strongest,
  takenRows,
  valuesOf,
  type Explained,
  type ExplainedPatient,
  type Similar,
} from '@rook-scale/core/reasons';
import {
  applyMatching,
  columnsForModel,
  lackingOf,
  neededOf,
  patientColumns,
  type Match,
  type PatientValues,
} from '@rook-scale/core/screening';
import { display, type Table } from '@rook-scale/core/table';
import { modelOf, needsModel } from '../known-models.ts';
import { developmentColumns, knownColumns, type Asked } from './asked.ts';

// What threads do with a fit and single patients. Nothing here reads or writes anything else.

export interface ReasonsTask extends Asked {
  /** A patient of the cohort, or one by hand. */
  patient: { row: number } | { values: PatientValues };
  seed: number;
  /** As it is read. */
  cutoff: number;
  /** Predictors that may change. */
  changeable: string[];
  /** Predictors of the design that must be known of a patient by hand. */
  needed: string[];
}

export interface Reasons extends Omit<Explained, 'patients'>, ExplainedPatient {
  /** What is said of the patient, as it is read. */
  said: number;
  /** Of every predictor; null where it is not known. */
  values: (number | string | null)[];
  /** The smallest changes that turn the call. */
  turns: { changes: { name: string; to: number | string }[]; said: number }[];
  similar: Similar[];
}

/** Similar patients and ways to turn the call that are told. */
const told = { similar: 10, turns: 5 };

/** What must be known of a patient for anything to be said, and is not. */
export interface Lacking {
  lacking: string[];
}

export function workOutReasons(task: ReasonsTask): Reasons | Lacking | typeof needsModel {
  const model = modelOf(task);
  if (!model) return needsModel;
  const { developmentRows, patient: asked, seed, cases, cutoff, changeable } = task;
  if ('values' in asked) {
    const lacking = lackingOf(model, asked.values, neededOf(model, task.needed));
    if (lacking.length > 0) return { lacking: lacking.map(display) };
  }
  const development = developmentColumns(task);
  const patient =
    'row' in asked
      ? knownColumns(task).map((column) => takenRows(column, [asked.row]))
      : asColumnsOf(patientColumns(model, [asked.values]), development);
  const { patients, ...explained } = explain(model, cases, patient, development, seed);
  const ask = askOf(model, cases);
  const turns = smallestChanges(
    ask,
    patient,
    development,
    isCalledAt(cutoff, cases),
    changeable,
    told.turns,
  );
  const itself = 'row' in asked ? developmentRows.indexOf(asked.row) : -1;
  return {
    ...explained,
    ...patients[0],
    said: ask(patient, 1)[0],
    values: patient.map((column) => wordOf(column, valuesOf(column)[0])),
    turns: turns.map(({ changes, said }) => ({
      said,
      changes: changes.map(({ name, to }) => ({
        name,
        to: wordOf(columnNamed(development, name), to)!,
      })),
    })),
    similar: mostSimilar(patient, development, told.similar, itself).map((one) => ({
      ...one,
      row: developmentRows[one.row],
    })),
  };
}

export interface ListReasonsTask extends Asked {
  /** Those patients alone. */
  table: Table;
  matching: Match[];
  seed: number;
  /** The same text for the same development patients. */
  patients: string;
}

/** What speaks most for and against each of some patients of a list. */
export interface ListReasons extends Pick<Explained, 'way'> {
  patients: ListReason[][];
  /** Whether the strongest, and their order, are certain; only where contributions were sampled. */
  certain?: boolean[];
}

/** What one predictor adds for a patient. */
export interface ListReason {
  name: string;
  value: number;
  /** The patient has no value of it: it was imputed. */
  isImputed?: true;
}

/** Reasons that are told of each patient of a list. */
const toldInList = 3;

export function workOutListReasons(task: ListReasonsTask): ListReasons | typeof needsModel {
  const model = modelOf(task);
  if (!model) return needsModel;
  const { development, explainThem } = explainerOf(task, model);
  const columns = columnsForModel(model, applyMatching(task.table, task.matching));
  const patients = asColumnsOf(columns, development);
  const explained = explainThem(patients);
  return {
    way: explained.way,
    patients: explained.patients.map((one, i) =>
      strongest(explained, one, toldInList).map((reason): ListReason => {
        const column = columnNamed(patients, reason.name);
        return isKnown(column, valuesOf(column)[i]) ? reason : { ...reason, isImputed: true };
      }),
    ),
    ...(explained.way === 'drawn' && {
      certain: explained.patients.map((one) => isOrderCertain(one, toldInList)),
    }),
  };
}

interface Explaining {
  key: string;
  development: PredictorColumn[];
  explainThem: (patients: PredictorColumn[]) => Explained;
}

/** The list that this thread was asked about last: it comes in parts. */
let last: Explaining | undefined;
/** Cells of development patients beyond which they are not kept in memory. */
const keptCells = 20_000_000;

function explainerOf(task: ListReasonsTask, model: Model): Explaining {
  const key = JSON.stringify([task.fit, task.patients, task.cases, task.seed]);
  if (last?.key === key) return last;
  const development = developmentColumns(task);
  const explainThem = explainer(model, task.cases, development, task.seed);
  const made = { key, development, explainThem };
  last = task.developmentRows.length * development.length <= keptCells ? made : undefined;
  return made;
}

/** Predictors of patients from elsewhere, in the order and the levels of the development patients. */
const asColumnsOf = (columns: PredictorColumn[], others: PredictorColumn[]): PredictorColumn[] =>
  inLevelsOf(
    others.map(({ name }) => columns.find((column) => column.name === name)!),
    others,
  );

function wordOf(column: PredictorColumn, value: number): number | string | null {
  if (!isKnown(column, value)) return null;
  return column.type === 'coded' ? column.levels[value] : value;
}
