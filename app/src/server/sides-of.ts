import { balanceOf, caseRule, findOutcome, spreadOf, type Design } from '@rook-scale/core/design';
import { casesOf } from '@rook-scale/core/outcome';
import type { Column, Table } from '@rook-scale/core/table';
import type { SidesView } from '../contract/designs.ts';

export interface SidesTask {
  table: Table;
  design: Design;
  along: string | null;
  /** One entry of the core's `side` a row, and the fold of each development row. */
  sides: Uint8Array;
  folds: Uint8Array;
}

/** How alike both sides are in the predictors, and who is where. */
export function sidesOf({ table, design, along, sides, folds }: SidesTask): SidesView {
  const events = casesOf(findOutcome(table, design), caseRule(design));
  const place = table.dictionary.findIndex(({ name }) => name === along);
  const column = table.columns[place] as Column | undefined;
  const values = column?.type === 'number' ? column.values : undefined;
  return {
    balance: balanceOf(table, design.predictors, sides),
    spread: spreadOf({ sides, folds, events }, values),
    along: values ? along : null,
  };
}
