import type { CodedColumn, NumberColumn } from '../table/index.ts';

/** A column on its way through the preparation. */
export type WorkingColumn = {
  /** Name of the file's column it comes from. */
  source: string;
  /** 'value' is the column itself, 'gap' marks where it was not known, 'level' is an indicator. */
  part: 'value' | 'gap' | 'level';
  /** Of a coded column: its levels have an order. */
  ordered?: boolean;
  level?: string;
  reference?: string;
  /** part 'gap': the columns that it is about. */
  together?: string[];
} & (NumberColumn | CodedColumn);

/** Whether it is the column itself, as opposed to something that was made beside it. */
export const isValue = ({ part }: WorkingColumn) => part === 'value';
