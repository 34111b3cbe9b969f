import { isMissing, type Column, type Table } from '../../table/index.ts';
import type { Finding } from './finding.ts';

/** AUC of the missing-value indicator from which missing values follow the outcome. */
const tellingArea = 0.9;
/** Share of one outcome among the missing (or the known) values that counts as nearly all. */
const nearlyAll = 0.95;
const fewestValues = 10;
/** Probability below which values of one outcome alone are not put down to chance. */
const notByChance = 1e-5;

/**
 * Columns that are missing, or known, in nearly all of the cases and hardly anybody else: they are filled in once the
 * outcome is known. Judged in the given rows only, which must not be held out.
 *
 * @param events 1, 0, or -1 where not known, one a row of the table
 */
export function findMissingByOutcome(
  table: Table,
  usable: boolean[],
  events: ArrayLike<number>,
  rows: ArrayLike<number>,
): Finding[] {
  const judged = Array.from(rows).filter((row) => events[row] >= 0);
  const cases = judged.reduce((sum, row) => sum + events[row], 0);
  const others = judged.length - cases;
  if (cases < 5 || others < 5) return [];
  return table.columns.flatMap((column, i) => {
    if (!usable[i]) return [];
    const missing = countMissing(column, events, judged);
    if (!followsOutcome(missing, { cases, others })) return [];
    const figures = { missingCases: missing.cases, cases, missingOthers: missing.others, others };
    return [
      { code: 'missing by outcome', columns: [table.dictionary[i].name], values: [], figures },
    ];
  });
}

interface Both {
  cases: number;
  others: number;
}

function countMissing(column: Column, events: ArrayLike<number>, rows: number[]): Both {
  const missing = { cases: 0, others: 0 };
  for (const row of rows)
    if (isMissing(column, row)) {
      if (events[row] === 1) missing.cases++;
      else missing.others++;
    }
  return missing;
}

function followsOutcome(missing: Both, all: Both): boolean {
  // Of a single binary marker the AUC is the mean of sensitivity and specificity.
  const area = 0.5 + (missing.cases / all.cases - missing.others / all.others) / 2;
  if (Math.max(area, 1 - area) >= tellingArea) return true;
  const known = { cases: all.cases - missing.cases, others: all.others - missing.others };
  const share = all.cases / (all.cases + all.others);
  return [missing, known].some(
    ({ cases, others }) =>
      isNearlyAll(cases, cases + others, share) || isNearlyAll(others, cases + others, 1 - share),
  );
}

/** Whether nearly all of these patients have an outcome that fewer than half of all have. */
function isNearlyAll(having: number, patients: number, share: number): boolean {
  if (share > 0.5 || patients < fewestValues || having < nearlyAll * patients) return false;
  return share ** having < notByChance;
}
