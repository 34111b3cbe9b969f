import type { Reading } from '../../contract/uploads.ts';
import type { TableRead } from './table-file.ts';

/** What a process that reads one file is told, and how it is answered when it wants bytes of it. */
export type ToApart = { size: number; wanted: Partial<Reading> } | { bytes: Uint8Array };

/** Bytes that it wants: from one place up to, but not with, another. */
export interface FromApart {
  from: number;
  to: number;
}

/** What it writes, one after the other, each behind its length in four bytes (big-endian). */
export type Frame =
  | { header: string[] }
  | { rows: string[][] }
  | { read: TableRead }
  | { problem: { status: number; code: string; sentence: string } }
  | { unreadable: string };
