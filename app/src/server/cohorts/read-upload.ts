import {
  ColumnBuilder,
  type Column,
  type Dictionary,
  type DictionaryEntry,
} from '@rook-scale/core/table';
import { readTableFile } from '../files/index.ts';
import { Problem } from '../problem.ts';
import { followReading } from '../reading-progress.ts';
import { keptFile, keptUpload } from '../uploads.ts';

/** The columns of a dictionary, read from the kept file. */
export async function readUpload(uploadId: string, dictionary: Dictionary, signal?: AbortSignal) {
  let places: number[] = [];
  const { reading, rowCount: rowsTotal, size } = await keptUpload(uploadId);
  const builders = dictionary.map((entry) => new ColumnBuilder(entry, rowsTotal));
  const progress = followReading(uploadId, rowsTotal);
  const { rowCount } = await readTableFile(
    keptFile(uploadId, size, signal),
    {
      header(names) {
        places = dictionary.map((entry) => names.indexOf(entry.name));
        const absent = dictionary.find((_, i) => places[i] < 0);
        if (absent)
          throw new Problem(422, 'column-absent', `The file has no column "${absent.name}".`);
      },
      row(cells) {
        for (let i = 0; i < builders.length; i++) builders[i].add(cells[places[i]] ?? '');
        progress.row();
      },
    },
    reading,
  ).finally(progress.end);
  const columns = builders.map((builder) => builder.result());
  return {
    rowCount,
    columns,
    dictionary: dictionary.map((entry, i) => withLevels(entry, columns[i])),
  };
}

function withLevels(entry: DictionaryEntry, column: Column): DictionaryEntry {
  const { levels: _, ...rest } = entry;
  return column.type === 'coded' ? { ...rest, levels: column.levels } : rest;
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
