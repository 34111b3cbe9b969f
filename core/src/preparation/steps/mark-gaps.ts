import * as z from 'zod';
import type { Effect } from '../effects.ts';
import {
  count,
  fewest,
  hasSupport,
  nobody,
  others,
  standingOf,
  supportOf,
  supportSchema,
  type Backing,
} from '../support.ts';
import { countGaps, isValue, lengthOf, type WorkingColumn } from '../working.ts';
import { byName } from './by-name.ts';
import type { Step } from './step.ts';

/**
 * By column, the columns whose gaps come with its own: in fewer patients than an input needs was it not
 * known while they were known, and in how many.
 */
export const gapCompanions = byName<{ column: string; without: number }[]>();

const learnedGaps = z.object({
  /** An indicator of columns that go empty together, often of one alone: 1 where more than half are not known. */
  inputs: z.array(supportSchema.extend({ columns: z.array(z.string()) })),
  /** Columns whose gaps are too few for one. */
  tooFew: z.array(supportSchema.extend({ column: z.string() })),
  comesWith: gapCompanions,
});
type LearnedGaps = z.infer<typeof learnedGaps>;

export const markGaps: Step<LearnedGaps> = {
  name: 'Mark gaps',
  about: 'Where enough patients lack a value, that it is not known is an input of its own.',
  learned: learnedGaps,
  learn: (columns, { backing }) => learnMarks(columns, backing),
  apply,
  effects: ({ inputs, tooFew, comesWith }) => [
    ...inputs.map((input): Effect => ({ what: 'gap marked', column: input.columns[0], ...input })),
    ...tooFew.map((few): Effect => ({ what: 'gap not marked', ...few })),
    ...Object.entries(comesWith).map(([column, others]): Effect => ({
      what: 'gap companions',
      column,
      others,
    })),
  ],
};

/** Puts each indicator behind the first of its columns. */
function apply({ inputs }: LearnedGaps, columns: WorkingColumn[]): WorkingColumn[] {
  if (inputs.length === 0) return columns;
  const behind = new Map(inputs.map((input) => [input.columns[0], input.columns]));
  return columns.flatMap((column) => {
    const together = isValue(column) ? behind.get(column.source) : undefined;
    return together ? [column, indicatorOf(together, columns)] : [column];
  });
}

function indicatorOf(together: string[], columns: WorkingColumn[]): WorkingColumn {
  const there = columns.filter((column) => isValue(column) && together.includes(column.source));
  return {
    source: together[0],
    part: 'gap',
    together,
    type: 'number',
    values: numbersOf(majority(there.map(gapRows))),
  };
}

/**
 * Finds the gap indicators that enough patients stand behind. Columns whose gaps differ in too few
 * patients to tell them apart share one: a second indicator would rest on those few alone. Nor does
 * a step before get a second one beside its own.
 *
 * @param touched the columns whose gaps are at hand, where not those of all: they may share an
 *   indicator with others, whose gaps come later
 */
export function learnMarks(
  columns: WorkingColumn[],
  backing: Backing,
  touched?: ReadonlySet<string>,
): LearnedGaps {
  const isTouched = (column: string) => !touched || touched.has(column);
  const found = membersOf(columns);
  const groups: Group[] = [];
  for (const member of found) {
    const alike = groups.find(({ leader }) => goTogether(leader, member.gaps, backing));
    if (alike) alike.members.push(member);
    else groups.push({ leader: member.gaps, members: [member] });
  }
  const learned: LearnedGaps = { inputs: [], tooFew: [], comesWith: companions(found, isTouched) };
  if (groups.length === 0) return learned;
  const before = columns.flatMap((column) => (column.part === 'gap' ? markedBy(column) : []));
  const everybody = standingOf(new Uint8Array(groups[0].leader.rows.length).fill(1), backing);
  for (const { members } of groups) {
    if (!members.some(({ column }) => isTouched(column))) continue;
    const rows = majority(members.map(({ gaps }) => gaps.rows));
    const gaps = gapsIn(rows);
    if (before.some((one) => goTogether(one, gaps, backing))) continue;
    const marked = standingOf(rows, backing);
    if (hasSupport(marked) && hasSupport(others(everybody, marked)))
      learned.inputs.push({
        columns: members.map(({ column }) => column),
        ...supportOf(backing, marked),
      });
    else
      for (const one of members.filter(({ column }) => isTouched(column)))
        learned.tooFew.push({
          column: one.column,
          ...supportOf(backing, standingOf(one.gaps.rows, backing)),
        });
  }
  return learned;
}

/** The columns whose gaps come together, of those that have any. */
export const companionsOf = (columns: WorkingColumn[]): LearnedGaps['comesWith'] =>
  companions(membersOf(columns), () => true);

const membersOf = (columns: WorkingColumn[]): Member[] =>
  columns.flatMap((column) => {
    // What a step has made is a gap where its columns are: they say so already.
    const gaps = isValue(column) && !column.of ? gapsOf(column) : undefined;
    return gaps ? [{ column: column.source, gaps }] : [];
  });

/** 1 where more than half of the columns are not known. */
function majority(gaps: Uint8Array[]): Uint8Array {
  if (gaps.length === 1) return gaps[0];
  const marked = new Uint8Array(gaps[0].length);
  for (let row = 0; row < marked.length; row++) {
    let count = 0;
    for (let j = 0; j < gaps.length; j++) count += gaps[j][row];
    if (2 * count > gaps.length) marked[row] = 1;
  }
  return marked;
}

/** 1 where the column is not known. */
function gapRows(column: WorkingColumn): Uint8Array {
  if (column.type === 'number') {
    const { values } = column;
    const rows = new Uint8Array(values.length);
    for (let row = 0; row < rows.length; row++) if (Number.isNaN(values[row])) rows[row] = 1;
    return rows;
  }
  const { codes } = column;
  const rows = new Uint8Array(codes.length);
  for (let row = 0; row < rows.length; row++) if (codes[row] < 0) rows[row] = 1;
  return rows;
}

interface Gaps {
  rows: Uint8Array;
  count: number;
}

interface Member {
  column: string;
  gaps: Gaps;
}

interface Group {
  leader: Gaps;
  members: Member[];
}

function gapsOf(column: WorkingColumn): Gaps | undefined {
  const count = countGaps(column);
  return count > 0 && count < lengthOf(column) ? { rows: gapRows(column), count } : undefined;
}

/** A loop, because an array made from one of another type takes twenty times as long. */
function numbersOf(rows: Uint8Array): Float64Array {
  const values = new Float64Array(rows.length);
  for (let row = 0; row < rows.length; row++) values[row] = rows[row];
  return values;
}

function gapsIn(rows: Uint8Array): Gaps {
  let count = 0;
  for (let row = 0; row < rows.length; row++) count += rows[row];
  return { rows, count };
}

/** The gaps that an indicator of a step before says. */
function markedBy(column: WorkingColumn): Gaps[] {
  return column.type === 'number' ? [gapsIn(Uint8Array.from(column.values))] : [];
}

/** Whether most gaps are common to both, and those that are not are too few to stand alone. */
function goTogether(a: Gaps, b: Gaps, backing: Backing): boolean {
  const differ = nobody(backing);
  for (let row = 0; row < a.rows.length; row++) {
    if (a.rows[row] === b.rows[row]) continue;
    count(differ, backing, row);
    if (differ.patients >= fewest.patients && hasSupport(differ)) return false;
  }
  // |A ∩ B| = (|A| + |B| - |A xor B|) / 2 and |A ∪ B| = (|A| + |B| + |A xor B|) / 2.
  return 2 * (a.count + b.count - differ.patients) > a.count + b.count + differ.patients;
}

/** Pairs of which neither is touched are told when one of them is. */
function companions(
  found: Member[],
  isTouched: (column: string) => boolean,
): LearnedGaps['comesWith'] {
  const comesWith: [string, { column: string; without: number }[]][] = [];
  for (const one of found) {
    // Of one with so few gaps, each is told by itself.
    if (one.gaps.count < fewest.patients) continue;
    const beside = found.flatMap((other) => {
      if (other === one || (!isTouched(one.column) && !isTouched(other.column))) return [];
      const without = countWithout(one.gaps.rows, other.gaps.rows);
      // One in five at most: then they come together, and not by chance.
      const together = without < fewest.patients && 5 * without <= one.gaps.count;
      return together ? [{ column: other.column, without }] : [];
    });
    if (beside.length > 0) comesWith.push([one.column, beside]);
  }
  return Object.fromEntries(comesWith);
}

/** Patients with a gap in one column and none in the other; counted only as far as it matters. */
function countWithout(gaps: Uint8Array, others: Uint8Array): number {
  let count = 0;
  for (let row = 0; row < gaps.length && count < fewest.patients; row++)
    if (gaps[row] && !others[row]) count++;
  return count;
}
