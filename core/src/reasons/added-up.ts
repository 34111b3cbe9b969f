import { shiftOf } from '../balancing/index.ts';
import type { InputMeaning } from '../inputs/index.ts';
import { applyPreparation, type PredictorColumn } from '../preparation/index.ts';
import { reviveFamily, type Model } from '../model/index.ts';
import type { Added } from '../families/index.ts';
import { rowCountOf } from './ask.ts';

/** What each predictor adds to what is said of patients, exactly. */
export interface AddedUp {
  /** Whether it adds up to what is said, or to the log-odds of the risk. */
  scale: Added['scale'];
  /** Mean of that among those whom they are compared with. */
  base: number;
  /** As the columns stand. */
  names: string[];
  /** By predictor, then patient. */
  values: Float64Array[];
}

/**
 * Contributions of predictors where the model's family is a sum of inputs or of trees: exact Shapley values on the
 * scale of that sum. Undefined where it is none, where an input is made of several predictors, or where risks were
 * brought back to other shares on another scale.
 *
 * @param compared all whom the model learned from
 * @param counted several levels: places of those that are cases
 */
export function addedUp(
  model: Model,
  patients: PredictorColumn[],
  compared: PredictorColumn[],
  counted?: number[],
): AddedUp | undefined {
  return addingUp(model, compared, counted)?.(patients);
}

/** The same for patients who come later: what does not depend on them is worked out once. */
export function addingUp(
  model: Model,
  compared: PredictorColumn[],
  counted?: number[],
): ((patients: PredictorColumn[]) => AddedUp | undefined) | undefined {
  const { preparation, correction } = model;
  const fitted = reviveFamily(model);
  if (!fitted.added || preparation.inputs.some(isMadeOfSeveral)) return undefined;
  const prepared = (columns: PredictorColumn[]) =>
    applyPreparation(
      preparation,
      columns,
      Int32Array.from({ length: rowCountOf(columns) }, (_, row) => row),
    );
  const others = prepared(compared);
  const meanings = new Map(preparation.inputs.map((input) => [input.name, input]));
  // Balancing moved everybody by the same step.
  const step = correction ? shiftOf(correction) : 0;
  return (patients) => {
    const inputs = prepared(patients);
    const added = fitted.added!(inputs, others, counted);
    if (!added || (correction && added.scale !== 'log-odds')) return undefined;
    const names = patients.map(({ name }) => name);
    const values = names.map(() => new Float64Array(inputs.rowCount));
    added.values.forEach((own, j) => {
      const { column, columns = [column] } = meanings.get(inputs.names[j])!;
      for (const name of columns) {
        const sums = values[names.indexOf(name)];
        for (let i = 0; i < own.length; i++) sums[i] += own[i] / columns.length;
      }
    });
    return { scale: added.scale, base: added.base - step, names, values };
  };
}

/**
 * Of one that says that several columns are not known each has the same part, as they go empty together; of another
 * made of several nobody can say what each adds.
 */
const isMadeOfSeveral = ({ kind, columns = [] }: InputMeaning) =>
  kind !== 'gap' && columns.length > 1;
