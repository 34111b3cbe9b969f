import { divide, type Design, type DivideBy, type Division } from '@rook-scale/core/design';
import type { Table } from '@rook-scale/core/table';

export type Divided = Pick<Division, 'sides' | 'folds' | 'counts'>;

export interface DivideTask {
  table: Table;
  design: Design;
  by: DivideBy;
}

/** Split and folds. Throws a DesignError when a side lacks a level. */
export function divideTable({ table, design, by }: DivideTask): Divided {
  const { sides, folds, counts } = divide(table, design, by);
  return { sides, folds, counts };
}
