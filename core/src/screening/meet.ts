import type { Table } from '../table/index.ts';
import { alignColumns, type Alignment } from './align.ts';
import type { Model } from '../model/index.ts';
import { describeTreatments } from './treatment.ts';

/** Meets the model's predictors with a cohort's columns, by name, and says what had to be done. */
export function alignToModel(model: Model, table: Table): Alignment {
  const alignment = alignColumns(model, table);
  return { ...alignment, predictors: describeTreatments(model, alignment) };
}
