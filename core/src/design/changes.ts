import { display, type Dictionary, type DictionaryEntry } from '../table/index.ts';
import type { OutcomeKind } from '../outcome/index.ts';
import { balancingWays } from '../balancing/index.ts';
import { stepOf } from '../preparation/index.ts';
import type { Selection } from '../selection/index.ts';
import type { Design } from './design.ts';
import type { FoldsChoice } from './folds/index.ts';
import type { SplitChoice } from './split/index.ts';
import type { Moving } from './moving.ts';

/** What a change of the design did, in a few words; empty when it changed nothing. */
export function describeDesignChange(
  before: Design,
  after: Design,
  dictionary: Dictionary,
): string {
  const name = (column: string) => {
    const entry = dictionary.find((one) => one.name === column);
    return entry ? display(entry) : column;
  };
  const parts: string[] = [];
  if (before.outcome !== after.outcome)
    parts.push(after.outcome ? `outcome ${name(after.outcome)}` : 'no outcome');
  else if (before.kind === after.kind && before.event !== after.event)
    parts.push(after.event ? `event ${after.event}` : 'event open');
  if (before.kind !== after.kind) parts.push(`predicted as ${kindWords[after.kind]}`);
  if (before.reference !== after.reference && after.reference)
    parts.push(`reference level ${after.reference}`);
  if (before.cases.join() !== after.cases.join())
    parts.push(after.cases.length > 0 ? `cases: ${few(after.cases)}` : 'cases open');
  if (before.caseFrom !== after.caseFrom || before.caseSide !== after.caseSide)
    parts.push(
      after.caseFrom === null ? 'case value open' : `a case ${after.caseSide} ${after.caseFrom}`,
    );
  if (!alike(before.preparation, after.preparation)) parts.push(preparationChange(before, after));
  parts.push(...keptChange('predictors', before.predictorSets, after.predictorSets));
  parts.push(...keptChange('preparation', before.preparations, after.preparations));
  if (!alike(before.balancing, after.balancing))
    parts.push(
      after.balancing.way === 'none'
        ? 'not balanced'
        : `balanced by ${balancingWays[after.balancing.way].name} to ${percent(after.balancing.share)}`,
    );
  if (!alike(before.split, after.split)) parts.push(`set aside ${splitWords(after.split, name)}`);
  if (before.heldOutShare !== after.heldOutShare)
    parts.push(`held out ${percent(before.heldOutShare)} → ${percent(after.heldOutShare)}`);
  if (before.sealedShare !== after.sealedShare)
    parts.push(`sealed ${percent(before.sealedShare)} → ${percent(after.sealedShare)}`);
  if (!alike(before.folds, after.folds)) parts.push(foldsWords(after.folds, name));
  if (before.seed !== after.seed) parts.push(`seed ${before.seed} → ${after.seed}`);
  if (before.missedCost !== after.missedCost)
    parts.push(`cost of a missed case ${before.missedCost} → ${after.missedCost}`);
  if (before.falseAlarmCost !== after.falseAlarmCost)
    parts.push(`cost of a false alarm ${before.falseAlarmCost} → ${after.falseAlarmCost}`);
  for (const [key, what] of [
    ['missed', 'a missed case'],
    ['falseAlarm', 'a false alarm'],
  ] as const)
    if (before.ownCosts[key] !== after.ownCosts[key])
      parts.push(
        after.ownCosts[key]
          ? `${what} costs what ${name(after.ownCosts[key])} says`
          : `${what} costs the same for all`,
      );
  if (before.costUnit !== after.costUnit)
    parts.push(after.costUnit ? `costs in ${after.costUnit}` : 'costs without a unit');
  if (JSON.stringify(before.levelCosts) !== JSON.stringify(after.levelCosts))
    parts.push(after.levelCosts ? 'costs of wrong levels' : 'every wrong level costs the same');
  const added = after.predictors.filter((one) => !before.predictors.includes(one)).map(name);
  const removed = before.predictors
    .filter((one) => !after.predictors.includes(one) && one !== after.outcome)
    .map(name);
  if (added.length > 0) parts.push(`with ${few(added)}`);
  if (removed.length > 0) parts.push(`without ${few(removed)}`);
  for (const [key, is, was] of [
    ['needed', 'must be known', 'need not be known'],
    ['fixed', 'cannot be changed', 'can be changed'],
  ] as const) {
    const added = after[key].filter((one) => !before[key].includes(one)).map(name);
    const dropped = before[key].filter((one) => !after[key].includes(one)).map(name);
    if (added.length > 0) parts.push(`${few(added)} ${is}`);
    if (dropped.length > 0) parts.push(`${few(dropped)} ${was}`);
  }
  return parts.join(', ');
}

/** What a change of who is in did, in a few words; empty when it changed nothing. */
export function describeSelectionChange(before: Selection, after: Selection): string {
  const parts: string[] = [];
  const key = ({ condition, reason }: Selection['exclusions'][number]) => `${condition} ${reason}`;
  const [had, has] = [before, after].map(({ exclusions }) => new Set(exclusions.map(key)));
  for (const one of after.exclusions) if (!had.has(key(one))) parts.push(`excluded: ${one.reason}`);
  for (const one of before.exclusions)
    if (!has.has(key(one))) parts.push(`no longer excluded: ${one.reason}`);
  if (JSON.stringify(before.duplicates) !== JSON.stringify(after.duplicates))
    parts.push(
      after.duplicates ? `of duplicates keep ${after.duplicates.keep}` : 'duplicates all kept',
    );
  return parts.join('; ');
}

/** What a change of the dictionary did, in a few words; empty when it changed nothing. */
export function describeDictionaryChange(before: Dictionary, after: Dictionary): string {
  const known = new Map(before.map((entry) => [entry.name, entry]));
  const changed = after.flatMap((entry) => {
    const old = known.get(entry.name);
    const what = old
      ? entryChange(old, entry)
      : [entry.formula ? `= ${entry.formula}` : 'brought in'];
    return what.length > 0 ? [`${display(entry)}: ${what.join(', ')}`] : [];
  });
  const now = new Set(after.map(({ name }) => name));
  for (const entry of before)
    if (!now.has(entry.name)) changed.push(`${display(entry)} taken away`);
  if (changed.length === 0) return '';
  return changed.length > 2 ? `${changed.length} columns of the dictionary` : changed.join('; ');
}

function entryChange(before: DictionaryEntry, after: DictionaryEntry): string[] {
  const same = (part: keyof DictionaryEntry) =>
    JSON.stringify(before[part] ?? null) === JSON.stringify(after[part] ?? null);
  const parts: string[] = [];
  if (!same('kind')) parts.push(after.kind);
  if (!same('role')) parts.push(after.role);
  if (!same('label')) parts.push('label');
  if (!same('unit')) parts.push('unit');
  if (!same('missingCodes')) parts.push(`not known as ${after.missingCodes.join(', ') || 'empty'}`);
  if (!same('format')) parts.push(after.format ?? 'usual spelling of numbers and dates');
  if (!same('spellings')) parts.push('names of levels');
  else if (!same('levels') && before.kind === after.kind) parts.push('order of levels');
  if (!same('formula')) parts.push(`= ${after.formula ?? ''}`);
  if (!same('plausible')) parts.push('plausible range');
  if (!same('note')) parts.push('note');
  return parts;
}

const kindWords: { [K in OutcomeKind]: string } = {
  event: 'yes or no',
  levels: 'several levels',
  number: 'a number',
};

function preparationChange(before: Design, after: Design): string {
  const [from, to] = [before.preparation, after.preparation];
  const has = (steps: typeof to, one: (typeof to)[number]) =>
    steps.some((other) => alike(one, other));
  const added = to.filter((one) => !has(from, one));
  const removed = from.filter((one) => !has(to, one));
  const names = (steps: typeof to) => steps.map(({ step }) => stepOf(step).name).join(', ');
  if (added.length === 0 && removed.length === 0) return 'steps in another order';
  if (added.length > 0 && removed.length === 0) return `step: ${names(added)}`;
  if (added.length === 0) return `without the step: ${names(removed)}`;
  return `step changed: ${names(added)}`;
}

function keptChange(what: string, before: { name: string }[], after: { name: string }[]): string[] {
  const added = after.filter((one) => !before.some((other) => alike(one, other)));
  const gone = before.filter((one) => !after.some(({ name }) => name === one.name));
  return [
    ...added.map(({ name }) => `${what} kept as ${name}`),
    ...gone.map(({ name }) => `${what} ${name} forgotten`),
  ];
}

const alike = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

const any = (values: string[]) => values.join(' or ') || '…';

/** A way to set patients aside, in a few words. */
export function splitWords(split: SplitChoice, name: (column: string) => string): string {
  if (split.way === 'by chance')
    return split.within?.length
      ? `by chance, within ${split.within.map(name).join(' and ')}`
      : 'by chance';
  if (split.way === 'by group') return `by ${name(split.column)}${movingWords(split.moving)}`;
  if (split.way === 'by date') return `the latest by ${name(split.column)}`;
  if (split.way === 'by column') return `where ${name(split.column)} is ${any(split.heldOut)}`;
  if (split.way === 'by rows') return `rows ${split.from} to ${split.to}`;
  if (split.way === 'second file') return `the patients of ${split.name}`;
  return `as ${split.name} says`;
}

/** Where patients with rows in several groups go. */
const movingWords = (moving: Moving | undefined): string =>
  moving === undefined
    ? ''
    : moving === 'development'
      ? ', patients of several groups in development'
      : `, patients of several groups in their ${moving} one`;

/** A way to deal folds, in a few words. */
export function foldsWords(folds: FoldsChoice, name: (column: string) => string): string {
  if (folds.way === 'by chance')
    return `${folds.count} folds by chance${folds.repeats ? `, ${folds.repeats} times` : ''}`;
  if (folds.way === 'by group')
    return `${folds.count} folds by ${name(folds.column)}${movingWords(folds.moving)}`;
  if (folds.way === 'each group')
    return `a fold for each ${name(folds.column)}${movingWords(folds.moving)}`;
  return 'folds as the file says';
}

const percent = (share: number) => `${Number((100 * share).toFixed(1))}%`;

function few(names: string[]): string {
  return names.length > 3 ? `${names.length} predictors` : names.join(', ');
}
