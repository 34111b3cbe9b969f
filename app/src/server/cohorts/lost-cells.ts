import { display } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { hasAgreed } from '../ground/person.ts';
import { Problem } from '../ground/problem.ts';

/** Share of the known cells of a column from which on it is asked about. */
const asksFrom = 0.01;

/**
 * Asks before columns are read as another kind in which many of their cells cannot be read. What is declared missing
 * is meant to be, and is not asked about; nor is a change of who is in, which is known by its numbers.
 */
export function askAboutLostCells(before: CohortInfo, after: CohortInfo): void {
  if (before.rowCount !== after.rowCount || hasAgreed('lose cells')) return;
  const lost = after.dictionary.flatMap((entry, i) => {
    const place = before.dictionary.findIndex(({ name }) => name === entry.name);
    const old = before.dictionary[place];
    if (!old || entry.formula || (old.kind === entry.kind && old.format === entry.format))
      return [];
    const known = before.rowCount - before.summaries[place].missing;
    const cells = after.summaries[i].missing - before.summaries[place].missing;
    return cells > asksFrom * known ? [{ entry, cells, known }] : [];
  });
  if (lost.length === 0) return;
  const words = lost
    .slice(0, 3)
    .map(
      ({ entry, cells, known }) =>
        `${count(cells)} of ${count(known)} known cells of ${display(entry)} as ${entry.kind}`,
    );
  const more = lost.length > 3 ? `, and cells of ${lost.length - 3} more columns` : '';
  throw new Problem(
    409,
    'lost-cells',
    `Read this way, these cells cannot be read and become missing: ${words.join('; ')}${more}. The file is kept, so the change can be undone.`,
  );
}

const count = (value: number) => value.toLocaleString('en-GB');
