import type { DictionaryEntry, Kind, Role } from './dictionary.ts';
import { defaultLevels } from './levels.ts';
import type { ColumnTally } from './tally.ts';

export interface Proposal {
  entry: DictionaryEntry;
  /** Why, or what the analyst should look at; one short sentence. */
  reason: string;
}

/** The kind, role and label that a column's values and name suggest. The analyst confirms each. */
export function proposeEntry(tally: ColumnTally): Proposal {
  const { kind, reason } = proposeKind(tally);
  const identifier = looksLikeIdentifier(tally);
  const role: Role = identifier
    ? 'identifier'
    : kind === 'text' || kind === 'date'
      ? 'set aside'
      : 'predictor';
  const { label, unit } = splitName(tally.name);
  const entry: DictionaryEntry = {
    name: tally.name,
    label,
    unit: kind === 'number' ? unit : '',
    kind: identifier ? 'text' : kind,
    role,
    missingCodes: [],
  };
  const levels = defaultLevels(tally, entry);
  if (levels) entry.levels = levels;
  return { entry, reason: identifier ? 'Different in nearly every row.' : reason };
}

function proposeKind(tally: ColumnTally): { kind: Kind; reason: string } {
  const present = tally.rows - tally.empty;
  const different = tally.distinct.length;
  if (present === 0) return { kind: 'text', reason: 'Every cell is empty.' };
  if (tally.yesNo === present && different > 1)
    return {
      kind: 'yes/no',
      reason: `Only ${tally.distinct.map(([value]) => value).join(', ')}.`,
    };
  if (tally.numbers >= 0.9 * present) return proposeNumber(tally, present);
  if (tally.days >= 0.9 * present)
    return { kind: 'date', reason: unreadable(present - tally.days, 'date') };
  if (!tally.manyDistinct && different <= Math.max(12, Math.min(60, present / 5)))
    return { kind: 'category', reason: different === 1 ? 'The same in every row.' : '' };
  return { kind: 'text', reason: 'Many different texts.' };
}

function proposeNumber(tally: ColumnTally, present: number): { kind: Kind; reason: string } {
  const different = tally.distinct.length;
  if (tally.numbers < present)
    return { kind: 'number', reason: unreadable(present - tally.numbers, 'number') };
  if (!tally.manyDistinct && different === 1)
    return { kind: 'number', reason: 'The same in every row.' };
  if (!tally.manyDistinct && different <= 6 && tally.whole === present && present > 20)
    return {
      kind: 'number',
      reason: `Only ${different} whole numbers: perhaps codes of a category?`,
    };
  return { kind: 'number', reason: '' };
}

function unreadable(count: number, kind: string): string {
  if (count === 0) return '';
  return `${count} ${count === 1 ? 'cell is' : 'cells are'} not a ${kind}.`;
}

/** Name and values together: a lab may well differ in every row, an "age" is no identifier. */
function looksLikeIdentifier(tally: ColumnTally): boolean {
  const named =
    /(^|[\s_.-])(id|ids|identifier|nr|no|number|ref|reference|record|mrn|key|patient)($|[\s_.-])/i;
  const wordy = /(^id[A-Z]|[a-z](Id|ID)$|^(patient|record|case)(nr|no|id|number)?$)/;
  if (!named.test(tally.name) && !wordy.test(tally.name)) return false;
  const present = tally.rows - tally.empty;
  return tally.manyDistinct || (present > 1 && tally.distinct.length >= 0.9 * present);
}

/** "creatinine_umol_l" stays a name, "Creatinine (µmol/L)" and "creatinine [µmol/L]" give a unit. */
function splitName(name: string): { label: string; unit: string } {
  const parts = /^(.*\S)\s*[([]([^()[\]]{1,20})[)\]]$/.exec(name);
  const text = (parts ? parts[1] : name).replaceAll('_', ' ').trim();
  const label = text.charAt(0).toUpperCase() + text.slice(1);
  return { label, unit: parts ? parts[2].trim() : '' };
}
