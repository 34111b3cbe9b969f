import type { CellFormat, DictionaryEntry, Kind, Role } from './dictionary.ts';
import { defaultLevels } from './levels.ts';
import type { ColumnTally } from './tally.ts';

export interface Proposal {
  entry: DictionaryEntry;
  /** Why, or what the analyst should look at; one short sentence. */
  reason: string;
  /** Set where the values alone cannot say what is meant, so that the analyst must. */
  asks?: 'thousands';
}

/** What a file does in the columns that leave no doubt, for those that do. */
interface Habits {
  decimalComma: boolean;
  decimalPoint: boolean;
  monthFirst: boolean;
}

/** Kind, role and label of every column of a file, as values and names suggest. The analyst confirms each. */
export function proposeEntries(tallies: ColumnTally[]): Proposal[] {
  const habits = {
    decimalComma: tallies.some((tally) => tally.commas.cells > tally.points.cells),
    decimalPoint: tallies.some((tally) => tally.points.cells > tally.commas.cells),
    monthFirst:
      tallies.some((tally) => tally.monthFirst.cells > tally.dayFirst.cells) &&
      !tallies.some((tally) => tally.dayFirst.cells > tally.monthFirst.cells),
  };
  const chosen = patientIdentifier(tallies.filter(looksLikeIdentifier));
  return tallies.map((tally) => {
    const proposal = proposeOne(tally, habits);
    if (looksLikeIdentifier(tally)) {
      if (tally === chosen) return proposal;
      return {
        entry: { ...proposal.entry, role: 'set aside' },
        reason: `Another identifier: ${chosen!.name} is taken as the patient’s.`,
      };
    }
    if (!runs(tally)) return proposal;
    // A running number says who the patient is, and nothing of them.
    const { format: _, ...entry } = proposal.entry;
    return {
      entry: { ...entry, kind: 'text', role: chosen ? 'set aside' : 'identifier' },
      reason: 'A running number.',
    };
  });
}

/** The proposal for a column on its own. */
export function proposeEntry(tally: ColumnTally): Proposal {
  return proposeEntries([tally])[0];
}

interface Guess {
  kind: Kind;
  format?: CellFormat;
  reason: string;
  asks?: 'thousands';
}

function proposeOne(tally: ColumnTally, habits: Habits): Proposal {
  const { kind, format, reason, asks } = guess(tally, habits);
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
  if (format && !identifier) entry.format = format;
  const levels = defaultLevels(tally, entry);
  if (levels) entry.levels = levels;
  if (identifier) return { entry, reason: 'Different in nearly every row.' };
  return { entry, reason, ...(asks && { asks }) };
}

function guess(tally: ColumnTally, habits: Habits): Guess {
  const present = tally.rows - tally.empty;
  const different = tally.distinct.length;
  if (present === 0) return { kind: 'text', reason: 'Every cell is empty.' };
  if (tally.yesNo === present && different > 1)
    return {
      kind: 'yes/no',
      reason: `Only ${tally.distinct.map(([value]) => value).join(', ')}.`,
    };
  return (
    guessNumber(tally, present, habits) ??
    guessDate(tally, present, habits) ??
    guessWords(tally, present)
  );
}

function guessNumber(tally: ColumnTally, present: number, habits: Habits): Guess | undefined {
  const comma =
    tally.commas.cells > tally.points.cells ||
    (tally.commas.cells === tally.points.cells && tally.withComma > 0 && habits.decimalComma);
  const { cells } = comma ? tally.commas : tally.points;
  if (cells < 0.9 * present) return undefined;
  const either = tally.commas.cells === tally.points.cells && tally.withComma > 0;
  if (either && habits.decimalComma === habits.decimalPoint) {
    const example = tally.distinct.find(([value]) => value.includes(','))?.[0] ?? '1,234';
    return {
      kind: 'text',
      asks: 'thousands',
      reason: `Is ${example} ${example.replaceAll(',', '')} or ${example.replace(',', '.')}? Make it a number, with a decimal point or a decimal comma.`,
    };
  }
  const guessed = { kind: 'number' as const, ...(comma && { format: 'decimal comma' as const }) };
  const different = tally.distinct.length;
  if (cells < present) return { ...guessed, reason: unreadable(present - cells, 'number') };
  if (comma) return { ...guessed, reason: 'Numbers with a decimal comma.' };
  if (!tally.manyDistinct && different === 1)
    return { ...guessed, reason: 'The same in every row.' };
  if (!tally.manyDistinct && different <= 6 && tally.whole === present && present > 20)
    return {
      ...guessed,
      reason: `Only ${different} whole numbers: perhaps codes of a category?`,
    };
  return { ...guessed, reason: '' };
}

function guessDate(tally: ColumnTally, present: number, habits: Habits): Guess | undefined {
  const { days, dayFirst, monthFirst } = tally;
  if (days.cells >= 0.9 * present)
    return { kind: 'date', reason: unreadable(present - days.cells, 'date') };
  const undecided = dayFirst.cells === monthFirst.cells;
  const monthWins = undecided ? habits.monthFirst : monthFirst.cells > dayFirst.cells;
  const cells = monthWins ? monthFirst.cells : dayFirst.cells;
  if (cells < 0.9 * present) return undefined;
  const format = monthWins ? ('month first' as const) : ('day first' as const);
  const how = undecided
    ? `Read ${format}, but every cell could also be read ${monthWins ? 'day' : 'month'} first.`
    : `Dates, ${format}.`;
  return { kind: 'date', format, reason: unreadable(present - cells, 'date') || how };
}

function guessWords(tally: ColumnTally, present: number): Guess {
  const different = tally.distinct.length;
  if (!tally.manyDistinct && different <= Math.max(12, Math.min(60, present / 5)))
    return { kind: 'category', reason: different === 1 ? 'The same in every row.' : '' };
  return { kind: 'text', reason: 'Many different texts.' };
}

function unreadable(count: number, kind: string): string {
  if (count === 0) return '';
  return `${count} ${count === 1 ? 'cell is' : 'cells are'} not a ${kind}.`;
}

/** Name and values together: a lab may well differ in every row, an "age" is no identifier. */
function looksLikeIdentifier(tally: ColumnTally): boolean {
  const named =
    /(^|[\s_.-])(id|ids|identifier|nr|no|number|ref|reference|record|mrn|key|patient)($|[\s_.-])/i;
  const wordy = /(^id[A-Z]|[a-z](Id|ID)$|^p(at)?id$|^(patient|record|case)(nr|no|id|number)?$)/;
  if (!named.test(tally.name) && !wordy.test(tally.name)) return false;
  const present = tally.rows - tally.empty;
  return tally.manyDistinct || (present > 1 && tally.distinct.length >= 0.9 * present);
}

/**
 * Of several identifiers the one that is a patient's: by its name, then the one with the fewest different values, as
 * an admission has one patient and a patient may have several admissions.
 */
function patientIdentifier(tallies: ColumnTally[]): ColumnTally | undefined {
  const rank = ({ name }: ColumnTally) =>
    /patient|person|subject|participant|mrn|(^|[\s_.-])p(at)?(id)?($|[\s_.-])/i.test(name)
      ? 0
      : /admission|visit|encounter|episode|stay|sample|specimen|record|row|order|line/i.test(name)
        ? 2
        : 1;
  const different = (tally: ColumnTally) => (tally.manyDistinct ? Infinity : tally.distinct.length);
  return tallies.toSorted((a, b) => rank(a) - rank(b) || compare(different(a), different(b)))[0];
}

const compare = (a: number, b: number) => (a === b ? 0 : a < b ? -1 : 1);

/** Rows below which numbers one after another may be chance. */
const fewestRunning = 20;

/** Whether the column counts the rows: whole numbers from 0 or 1, each one more than the one before. */
function runs({ rows, empty, distinct, manyDistinct, whole }: ColumnTally): boolean {
  if (empty > 0 || rows < fewestRunning || whole < rows) return false;
  if (!manyDistinct && distinct.length < rows) return false;
  const first = Number(distinct[0][0]);
  // Ages in order may follow one another as well; they do not begin with 0 or 1.
  if (first !== 0 && first !== 1) return false;
  return distinct.every(([value, count], i) => count === 1 && Number(value) === first + i);
}

/** "creatinine_umol_l" stays a name, "Creatinine (µmol/L)" and "creatinine [µmol/L]" give a unit. */
function splitName(name: string): { label: string; unit: string } {
  const parts = /^(.*\S)\s*[([]([^()[\]]{1,20})[)\]]$/.exec(name);
  const text = (parts ? parts[1] : name).replaceAll('_', ' ').trim();
  const label = text.charAt(0).toUpperCase() + text.slice(1);
  return { label, unit: parts ? parts[2].trim() : '' };
}
