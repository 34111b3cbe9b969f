import { setImmediate } from 'node:timers/promises';
import type { Column, Dictionary, DictionaryEntry } from '@rook-scale/core/table';
import { readColumns, type Following } from '../intake/index.ts';
import { Problem } from '../ground/problem.ts';

/** The columns of a dictionary, from the cells at hand or else from the kept file. */
export async function readUpload(
  uploadId: string,
  dictionary: Dictionary,
  following: Following = {},
) {
  const read = await readColumns(uploadId, dictionary, following);
  return {
    ...read,
    dictionary: dictionary.map((entry, i) => withLevels(entry, read.columns[i])),
  };
}

/** Others are served between the columns of a long file; ends with a Problem when it is cancelled. */
export async function letOthers(signal?: AbortSignal): Promise<void> {
  await setImmediate();
  if (signal?.aborted) throw new Problem(409, 'cancelled', 'Cancelled. Nothing was stored.');
}

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
  const counts = dictionary.filter((entry) => entry.role === 'number of patients');
  if (counts.length > 1)
    throw say(
      `Only one column can be the number of patients, but ${counts.map((entry) => entry.name).join(' and ')} are marked.`,
    );
}
