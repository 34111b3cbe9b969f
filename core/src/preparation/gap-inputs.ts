import {
  count,
  fewest,
  hasSupport,
  nobody,
  others,
  standingOf,
  supportOf,
  type Backing,
  type Support,
} from './support.ts';
import type { WorkingColumn } from './working.ts';

/** An indicator "not known" of columns that go empty together; often of one column alone. */
export interface GapInput extends Support {
  /** It is 1 where more than half of these are not known. */
  columns: string[];
}

/** What was learned of gaps: the indicators, and the columns whose gaps are too few for one. */
export interface LearnedGaps {
  inputs: GapInput[];
  tooFew: ({ column: string } & Support)[];
  /**
   * By column, the columns whose gaps come with its own: in fewer patients than an input needs was it
   * not known while they were known, and in how many.
   */
  comesWith: Record<string, { column: string; without: number }[]>;
}

/**
 * Finds the gap indicators that enough patients stand behind. Columns whose gaps differ in too few
 * patients to tell them apart share one: a second indicator would rest on those few alone.
 */
export function learnGapInputs(columns: WorkingColumn[], backing: Backing): LearnedGaps {
  const found = columns.flatMap((column): Member[] => {
    const gaps = gapsOf(column);
    return gaps ? [{ column: column.source, gaps }] : [];
  });
  const groups: Group[] = [];
  for (const member of found) {
    const alike = groups.find(({ leader }) => goTogether(leader, member.gaps, backing));
    if (alike) alike.members.push(member);
    else groups.push({ leader: member.gaps, members: [member] });
  }
  const learned: LearnedGaps = { inputs: [], tooFew: [], comesWith: companions(found) };
  if (groups.length === 0) return learned;
  const everybody = standingOf(new Uint8Array(groups[0].leader.rows.length).fill(1), backing);
  for (const { members } of groups) {
    const marked = standingOf(majority(members.map(({ gaps }) => gaps.rows)), backing);
    if (hasSupport(marked) && hasSupport(others(everybody, marked)))
      learned.inputs.push({
        columns: members.map(({ column }) => column),
        ...supportOf(backing, marked),
      });
    else
      for (const { column, gaps } of members)
        learned.tooFew.push({ column, ...supportOf(backing, standingOf(gaps.rows, backing)) });
  }
  return learned;
}

/** 1 where more than half of the columns are not known. */
export function majority(gaps: Uint8Array[]): Uint8Array {
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
export function gapRows(column: WorkingColumn): Uint8Array {
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
  const rows = gapRows(column);
  let count = 0;
  for (let row = 0; row < rows.length; row++) count += rows[row];
  return count > 0 && count < rows.length ? { rows, count } : undefined;
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

function companions(found: Member[]): LearnedGaps['comesWith'] {
  const comesWith: [string, { column: string; without: number }[]][] = [];
  for (const one of found) {
    // Of one with so few gaps, each is told by itself.
    if (one.gaps.count < fewest.patients) continue;
    const beside = found.flatMap((other) => {
      if (other === one) return [];
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
