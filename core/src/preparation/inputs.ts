/** Model inputs: what a family is fitted on. `columns[j][i]` is input j of patient i; no NaN. */
export interface Inputs {
  rowCount: number;
  names: string[];
  columns: Float64Array[];
}

/** Where one model input comes from, in a form the interface can put in words. */
export interface InputMeaning {
  /** Name of the input, unique in a model. */
  name: string;
  /** Name of the column it is made from. */
  column: string;
  kind: 'number' | 'level' | 'gap';
  /** kind 'gap': the columns that go empty together, where there are several. */
  columns?: string[];
  /** kind 'level': 1 where the column has this level, 0 where it has `reference` or another. */
  level?: string;
  reference?: string;
  /** kind 'number': the input is (value - mean) / sd, sd with divisor n. */
  mean?: number;
  sd?: number;
}
