import { setImmediate } from 'node:timers/promises';
import {
  ColumnBuilder,
  type Column,
  type Dictionary,
  type DictionaryEntry,
} from '@rook-scale/core/table';
import { readTableFile } from '../files/index.ts';
import { cellsAtHand } from '../kept-cells.ts';
import { Problem } from '../problem.ts';
import { keptFile, keptUpload } from '../uploads.ts';

/** How a reading is followed, and stopped. */
export interface Following {
  signal?: AbortSignal;
  /** Called with the share of the reading that is done. */
  done?: (share: number) => void;
}

/** The columns of a dictionary, from the cells at hand or else from the kept file. */
export async function readUpload(
  uploadId: string,
  dictionary: Dictionary,
  following: Following = {},
) {
  const { rowCount, columns } =
    (await readCells(uploadId, dictionary, following)) ??
    (await readFile(uploadId, dictionary, following));
  return {
    rowCount,
    columns,
    dictionary: dictionary.map((entry, i) => withLevels(entry, columns[i])),
  };
}

interface ColumnsRead {
  rowCount: number;
  columns: Column[];
}

async function readCells(
  uploadId: string,
  dictionary: Dictionary,
  { signal, done }: Following,
): Promise<ColumnsRead | undefined> {
  const found = cellsAtHand(uploadId);
  if (!found) return undefined;
  const columns: Column[] = [];
  for (const entry of dictionary) {
    const cells = found.cells.get(entry.name);
    if (!cells) throw columnAbsent(entry.name);
    columns.push(cells.column(entry));
    done?.(columns.length / dictionary.length);
    await letOthers(signal);
  }
  return { rowCount: found.rowCount, columns };
}

async function readFile(
  uploadId: string,
  dictionary: Dictionary,
  { signal, done }: Following,
): Promise<ColumnsRead> {
  let places: number[] = [];
  const { reading, rowCount: rowsTotal, size } = await keptUpload(uploadId);
  const builders = dictionary.map((entry) => new ColumnBuilder(entry, rowsTotal));
  let rows = 0;
  const { rowCount } = await readTableFile(
    keptFile(uploadId, size, signal),
    {
      header(names) {
        places = dictionary.map((entry) => names.indexOf(entry.name));
        const absent = dictionary.find((_, i) => places[i] < 0);
        if (absent) throw columnAbsent(absent.name);
      },
      row(cells) {
        for (let i = 0; i < builders.length; i++) builders[i].add(cells[places[i]] ?? '');
        if (++rows % 1000 === 0) done?.(rows / rowsTotal);
      },
    },
    reading,
  );
  return { rowCount, columns: builders.map((builder) => builder.result()) };
}

/** Others are served between the columns of a long file; ends with a Problem when it is cancelled. */
export async function letOthers(signal?: AbortSignal): Promise<void> {
  await setImmediate();
  if (signal?.aborted) throw new Problem(409, 'cancelled', 'Cancelled. Nothing was stored.');
}

const columnAbsent = (name: string) =>
  new Problem(422, 'column-absent', `The file has no column "${name}".`);

function withLevels(entry: DictionaryEntry, column: Column): DictionaryEntry {
  const { levels: _, ...rest } = entry;
  return column.type === 'coded' ? { ...rest, levels: column.levels } : rest;
}

/**
 * The dictionary with its identifier read as text: a patient is called in by what stands in the
 * file, with its leading zeros and all its digits. Any column may say who the patient is.
 */
export function identifiersAsText(dictionary: Dictionary): Dictionary {
  return dictionary.map((entry) => {
    if (entry.role !== 'identifier' || entry.kind === 'text' || entry.formula) return entry;
    const { levels: _, spellings: __, format: ___, plausible: ____, ...rest } = entry;
    return { ...rest, kind: 'text', unit: '' };
  });
}

/** Refuses two outcomes and two identifiers. */
export function checkDictionary(dictionary: Dictionary): void {
  const outcomes = dictionary.filter((entry) => entry.role === 'outcome');
  const identifiers = dictionary.filter((entry) => entry.role === 'identifier');
  const say = (sentence: string) => new Problem(422, 'dictionary', sentence);
  if (outcomes.length > 1)
    throw say(
      `A study has one outcome, but ${outcomes.map((entry) => entry.name).join(' and ')} are marked. Set the others aside.`,
    );
  if (identifiers.length > 1)
    throw say(
      `Only one column can be the identifier, but ${identifiers.map((entry) => entry.name).join(' and ')} are marked.`,
    );
}
