import {
  cellFormats,
  dictionaryEntrySchema,
  isCoded,
  kinds,
  roles,
  type Dictionary,
  type DictionaryEntry,
} from './dictionary.ts';

/** The columns of a dictionary as a file, in this order. */
export const dictionaryHeader = [
  'name',
  'label',
  'unit',
  'kind',
  'role',
  'levels',
  'stands for',
  'not known as',
  'spelling',
  'plausible from',
  'plausible to',
  'beyond it',
  'formula',
  'note',
];

/** A dictionary as rows of text, the header first; lists are parted by bars. */
export function dictionaryRows(dictionary: Dictionary): string[][] {
  return [dictionaryHeader, ...dictionary.map(rowOf)];
}

function rowOf(entry: DictionaryEntry): string[] {
  const { plausible } = entry;
  const number = (value: number | null | undefined) => (value == null ? '' : String(value));
  return [
    entry.name,
    entry.label,
    entry.unit,
    entry.kind,
    entry.role,
    joined(entry.levels ?? []),
    joined(
      Object.entries(entry.spellings ?? {}).map(
        ([cell, level]) => `${escaped(cell, '=')}=${level}`,
      ),
    ),
    joined(entry.missingCodes),
    entry.format ?? '',
    number(plausible?.least),
    number(plausible?.most),
    plausible?.beyond ?? '',
    entry.formula ?? '',
    entry.note ?? '',
  ];
}

/** What came of a dictionary file on the columns of a cohort. */
export interface DictionaryApplied {
  dictionary: Dictionary;
  /** Columns that the file says something else of than before. */
  changed: string[];
  /** Names in the file that the cohort does not have; derived ones are added instead. */
  unmatched: string[];
  /** Columns of the cohort that the file does not name. */
  unnamed: string[];
  /** Derived columns that are added. */
  added: string[];
  /** What cannot be taken over, each a sentence. */
  faults: string[];
}

/**
 * Takes a dictionary file over to a cohort's dictionary, matched by name. Fields whose column the
 * file lacks stay as they are. Undefined when there is no column `name`.
 */
export function applyDictionaryRows(
  rows: string[][],
  dictionary: Dictionary,
): DictionaryApplied | undefined {
  const header = (rows[0] ?? []).map((cell) => cell.trim().toLowerCase());
  if (!header.includes('name')) return undefined;
  const result: DictionaryApplied = {
    dictionary: [],
    changed: [],
    unmatched: [],
    unnamed: [],
    added: [],
    faults: [],
  };
  const said = new Map<string, Map<string, string>>();
  for (const row of rows.slice(1)) {
    const cells = new Map(header.map((name, i) => [name, (row[i] ?? '').trim()]));
    const name = cells.get('name')!;
    if (name === '') continue;
    if (said.has(name)) result.faults.push(`${name} is named twice; its last line counts.`);
    said.set(name, cells);
  }
  const known = new Set(dictionary.map(({ name }) => name));
  result.dictionary = dictionary.map((entry) => {
    const cells = said.get(entry.name);
    if (!cells) {
      result.unnamed.push(entry.name);
      return entry;
    }
    const next = entryOf(entry, cells, result.faults);
    if (inOrder(next) !== inOrder(entry)) result.changed.push(entry.name);
    return next;
  });
  for (const [name, cells] of said) {
    if (known.has(name)) continue;
    if (!cells.get('formula')) {
      result.unmatched.push(name);
      continue;
    }
    const fresh: DictionaryEntry = {
      name,
      label: '',
      unit: '',
      kind: 'number',
      role: 'predictor',
      missingCodes: [],
    };
    result.dictionary.push(entryOf(fresh, cells, result.faults));
    result.added.push(name);
  }
  return result;
}

function entryOf(
  before: DictionaryEntry,
  cells: Map<string, string>,
  faults: string[],
): DictionaryEntry {
  const next: DictionaryEntry = { ...before };
  const take = <Key extends keyof DictionaryEntry>(
    column: string,
    key: Key,
    read: (text: string) => DictionaryEntry[Key] | undefined,
  ) => {
    const text = cells.get(column);
    if (text === undefined) return;
    const value = read(text);
    if (value === undefined) Reflect.deleteProperty(next, key);
    else next[key] = value;
  };
  const one = <T extends string>(text: string, allowed: readonly T[], otherwise: T | undefined) => {
    if (text === '') return otherwise;
    const found = allowed.find((value) => value === text.toLowerCase());
    if (!found)
      faults.push(
        `${before.name}: “${text}” is not one of ${allowed.join(', ')}; it stays as it was.`,
      );
    return found ?? otherwise;
  };
  take('label', 'label', (text) => text.slice(0, 200));
  take('unit', 'unit', (text) => text.slice(0, 40));
  take('kind', 'kind', (text) => one(text, kinds, before.kind));
  take('role', 'role', (text) => one(text, roles, before.role));
  take('spelling', 'format', (text) => one(text, cellFormats, undefined));
  take('not known as', 'missingCodes', parted);
  take('stands for', 'spellings', (text) => spellingsOf(text));
  take('note', 'note', (text) => text.slice(0, 2000) || undefined);
  if (before.formula !== undefined || !cells.has('kind') || cells.get('formula'))
    take('formula', 'formula', (text) => text || before.formula);
  if (isCoded(next.kind)) take('levels', 'levels', (text) => (text ? parted(text) : before.levels));
  else Reflect.deleteProperty(next, 'levels');
  takePlausible(next, cells, faults);
  const checked = dictionaryEntrySchema.safeParse(next);
  if (checked.success) return checked.data;
  faults.push(`${before.name}: ${checked.error.issues[0].message}; it stays as it was.`);
  return before;
}

function takePlausible(next: DictionaryEntry, cells: Map<string, string>, faults: string[]): void {
  const [from, to] = [cells.get('plausible from'), cells.get('plausible to')];
  if (from === undefined && to === undefined) return;
  const read = (text: string | undefined) => (text ? Number(text) : null);
  const [least, most] = [read(from), read(to)];
  if (Number.isNaN(least) || Number.isNaN(most)) {
    faults.push(`${next.name}: its plausible range is not two numbers; it stays as it was.`);
    return;
  }
  if (least === null && most === null) Reflect.deleteProperty(next, 'plausible');
  else
    next.plausible = {
      least,
      most,
      beyond: cells.get('beyond it')?.toLowerCase() === 'not known' ? 'not known' : 'kept',
    };
}

/** An entry as text, whatever the order in which its fields were set. */
function inOrder(entry: DictionaryEntry): string {
  return JSON.stringify(Object.entries(entry).sort(([a], [b]) => (a < b ? -1 : 1)));
}

/** Parts joined by bars; a bar inside one is doubled. */
function joined(parts: string[]): string {
  return parts.map((part) => escaped(part, '|')).join('|');
}

const escaped = (text: string, mark: string) => text.replaceAll(mark, mark + mark);

function parted(text: string, mark = '|'): string[] {
  if (text === '') return [];
  const place = '\u0000';
  return text
    .replaceAll(mark + mark, place)
    .split(mark)
    .map((part) => part.replaceAll(place, mark).trim());
}

function spellingsOf(text: string): Record<string, string> | undefined {
  const pairs = parted(text).flatMap((part): [string, string][] => {
    const [cell, ...level] = parted(part, '=');
    return level.length > 0 && level.join('=') ? [[cell, level.join('=')]] : [];
  });
  return pairs.length > 0 ? Object.fromEntries(pairs) : undefined;
}
