import type { Format, Reading, Remark } from '../../contract/uploads.ts';
import { fromStart } from './decode.ts';
import type { RowReader } from './table-feed.ts';

/** The kept bytes of a file. */
export interface KeptFile {
  size: number;
  /** All of them, in order. */
  stream: () => AsyncIterable<Uint8Array>;
  /** Those from one place up to, but not with, another. */
  slice: (from: number, to: number) => Promise<Uint8Array>;
}

/** A file taken as a table. */
export interface TableRead {
  /** As asked for, the rest as guessed. */
  reading: Reading;
  rowCount: number;
  /** What the analyst should know about how the file was read. */
  remarks: Remark[];
}

/** Reads a kept file of any format. A new format is added here and to the formats' list. */
export async function readTableFile(
  file: KeptFile,
  reader: RowReader,
  wanted: Partial<Reading> = {},
): Promise<TableRead> {
  switch (wanted.format ?? (await formatOf(file))) {
    case 'workbook':
      return (await import('./workbook.ts')).readWorkbook(file, reader, wanted);
    case 'Parquet':
      return (await import('./parquet.ts')).readParquet(file, reader, wanted);
    case 'JSON':
      return (await import('./json.ts')).readJson(file, reader, wanted);
    case 'JSON lines':
      return (await import('./json.ts')).readJsonLines(file, reader, wanted);
    default:
      return (await import('./delimited.ts')).readDelimited(file.stream(), reader, wanted);
  }
}

/** The format that the beginning of a file shows; undefined for text. */
export async function formatOf(file: KeptFile): Promise<Format | undefined> {
  return sniffFormat(await file.slice(0, Math.min(file.size, 4096)));
}

/** The format that the first bytes of a file show; undefined for text. */
export function sniffFormat(start: Uint8Array): Format | undefined {
  const ascii = String.fromCharCode(...start.subarray(0, 4));
  if (ascii === 'PK\u0003\u0004') return 'workbook';
  if (ascii === 'PAR1') return 'Parquet';
  const text = new TextDecoder(fromStart(start))
    .decode(start)
    .replace(/^\uFEFF/, '')
    .trimStart();
  if (/^\[\s*(\{|\]|$)/.test(text)) return 'JSON';
  return /^\{\s*("|\}|$)/.test(text) ? 'JSON lines' : undefined;
}
