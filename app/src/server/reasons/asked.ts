import type { Model } from '@rook-scale/core/model';
import type { CaseRule } from '@rook-scale/core/outcome';
import type { PredictorColumn } from '@rook-scale/core/preparation';
import { takenRows } from '@rook-scale/core/reasons';
import { knownLevels } from '@rook-scale/core/tuning';

/** What every thread is told that asks a fit for reasons: columns in shared memory, and a model it may have still. */
export interface Asked {
  /** The fit that is asked. */
  fit: string;
  model?: Model;
  cases: CaseRule;
  /** Predictors of every patient of the cohort. */
  columns: PredictorColumn[];
  developmentRows: Int32Array;
}

/** The predictors as whoever learned on the development patients knows them. */
export const knownColumns = ({ columns, developmentRows }: Asked): PredictorColumn[] =>
  knownLevels(columns, developmentRows);

/** The same of the development patients alone. */
export const developmentColumns = (asked: Asked): PredictorColumn[] =>
  knownColumns(asked).map((column) => takenRows(column, asked.developmentRows));
