import {
  divide,
  patientsIn,
  type Design,
  type DivideBy,
  type Division,
} from '@rook-scale/core/design';
import type { Table } from '@rook-scale/core/table';

export type Divided = Pick<Division, 'sides' | 'folds' | 'counts'>;

export interface DivideTask {
  table: Table;
  design: Design;
  by: Omit<DivideBy, 'patients'>;
  /** The same text for the same patients, known by the same columns. */
  who: string;
  /** The table lacks what they are known by: whoever divided them last knows them. */
  known?: boolean;
}

/** Who was divided last: another share or seed divides the same patients again. */
let last: { who: string; patients: ReturnType<typeof patientsIn> } | undefined;

/**
 * Split and folds; null where the patients would have to be known and are not. Throws a DesignError
 * when a side lacks a level.
 */
export function divideTable({ table, design, by, who, known }: DivideTask): Divided | null {
  if (known && last?.who !== who) return null;
  if (last?.who !== who) last = { who, patients: patientsIn(table) };
  const { sides, folds, counts } = divide(table, design, { ...by, patients: last.patients });
  return { sides, folds, counts };
}
