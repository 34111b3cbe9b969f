import {
  balanceOf,
  caseRule,
  findOutcome,
  patientCosts,
  rowsOn,
  side,
  spreadOf,
  type Design,
} from '@rook-scale/core/design';
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
    withoutModel: withoutModel(table, design, sides, events),
  };
}

function withoutModel(
  table: Table,
  design: Design,
  sides: Uint8Array,
  events: Int8Array,
): SidesView['withoutModel'] {
  const rows = rowsOn(sides, side.development);
  const own = patientCosts(design, table, rows);
  if (!own) return null;
  let [nobody, everybody] = [0, 0];
  rows.forEach((row, i) => {
    if (events[row] === 1) nobody += own.missed[i];
    else everybody += own.falseAlarm[i];
  });
  return { nobody: (1000 * nobody) / rows.length, everybody: (1000 * everybody) / rows.length };
}
