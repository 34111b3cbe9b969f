import { balanceOf, type Balance } from '@rook-scale/core/design';
import type { Table } from '@rook-scale/core/table';

export interface BalanceTask {
  table: Table;
  names: string[];
  /** One entry of the core's `side` a row. */
  sides: Uint8Array;
}

/** How alike both sides are in these columns. */
export function balanceTable({ table, names, sides }: BalanceTask): Balance[] {
  return balanceOf(table, names, sides);
}
