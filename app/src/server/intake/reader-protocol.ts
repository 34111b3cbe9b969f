import type { Column, ColumnSummary, ColumnTally, Dictionary } from '@rook-scale/core/table';
import type { Combination, Reading, Remark } from '../../contract/uploads.ts';
import type { TableRead } from '../files/index.ts';

/** What a pass over a file has found. */
export interface Surveyed extends TableRead {
  tallies: ColumnTally[];
  firstRows: string[][];
}

/** Columns of a file as a dictionary has them read; typed arrays are in shared memory. */
export interface ColumnsRead {
  rowCount: number;
  columns: Column[];
  summaries: ColumnSummary[];
}

export interface KeptFileNamed {
  id: string;
  size: number;
}

export interface SheetNamed extends KeptFileNamed {
  fileName: string;
  reading: Reading;
}

/** What the thread that reads files is asked. */
export type Ask =
  /** Look a file over; it comes piece by piece where `incoming`, else it is kept already. */
  | { ask: 'survey'; file: KeptFileNamed; wanted: Partial<Reading>; incoming: boolean }
  /** A piece of it; null at its end. */
  | { ask: 'piece'; bytes: Uint8Array | null }
  /** Columns of a file just looked over, from its cells. */
  | { ask: 'columns'; dictionary: Dictionary }
  /** Columns of a kept file. */
  | { ask: 'build'; file: KeptFileNamed; reading: Reading; rows: number; dictionary: Dictionary }
  /** Two kept files as one table; */
  | { ask: 'combine'; first: SheetNamed; second: SheetNamed; wanted: Combination }
  /** and that table as CSV, a piece at a time. */
  | { ask: 'combined' };

/** What it says. */
export type Answer =
  | { took: true }
  | { done: number }
  | { surveyed: Surveyed; cellBytes: number | null }
  | { columns: ColumnsRead }
  | { fileName: string; remark: Remark }
  | { piece: Uint8Array | null }
  | { problem: { status: number; code: string; sentence: string } }
  | { away: true };
