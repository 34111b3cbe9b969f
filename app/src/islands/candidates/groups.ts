import type { CandidateLine } from '../../contract/candidates.ts';

/** Names of the groups in which candidates stand, in their order. */
export const groupsOf = (lines: CandidateLine[]): string[] =>
  [...new Set(lines.map(({ group }) => group).filter(Boolean))].sort((a, b) => a.localeCompare(b));

/** Lines by group, each in the order given: those in none come first. */
export const byGroup = (lines: CandidateLine[]): { group: string; lines: CandidateLine[] }[] =>
  ['', ...groupsOf(lines)]
    .map((group) => ({ group, lines: lines.filter((line) => line.group === group) }))
    .filter((one) => one.lines.length > 0);
