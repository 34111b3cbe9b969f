import type { DictionaryEntry } from '@rook-scale/core/table';
import { showDigits } from '../browser/numbers.ts';

/** Significant digits of a number in a list; the title has them all. */
const digits = 6;

/** One value in a list of patients; a number with no more digits than can be read across a row. */
export function CellText({ entry, cell }: { entry: DictionaryEntry; cell: string }) {
  if (cell === '') return <span title="Not known">·</span>;
  if (entry.kind !== 'number' || entry.role === 'identifier' || cell.length <= digits + 1)
    return <span title={cell.length > 10 ? cell : undefined}>{cell}</span>;
  const value = Number(cell);
  if (!Number.isFinite(value)) return cell;
  return <span title={cell}>{showDigits(value, digits)}</span>;
}
