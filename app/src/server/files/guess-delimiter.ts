import Papa from 'papaparse';
import { delimiters } from '../../contract/uploads.ts';

/**
 * The mark that parts the first rows into the most columns while they agree on how many. A decimal
 * comma parts rows too, but not the header alike.
 */
export function guessDelimiter(first: string): (typeof delimiters)[number] {
  const guesses = delimiters.map((mark) => ({ mark, columns: agreedColumns(first, mark) }));
  return guesses.reduce((best, next) => (next.columns > best.columns ? next : best)).mark;
}

function agreedColumns(first: string, delimiter: string): number {
  const { data } = Papa.parse<string[]>(first, {
    delimiter,
    preview: 30,
    skipEmptyLines: 'greedy',
  });
  // The last row may be cut short by the end of the piece.
  const rows = data.length > 2 ? data.slice(0, -1) : data;
  const width = rows[0]?.length ?? 0;
  const agreeing = rows.filter((cells) => cells.length === width).length;
  return width < 2 ? 0 : (width * agreeing) / rows.length;
}
