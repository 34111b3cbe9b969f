import Papa from 'papaparse';
import { Problem } from '../ground/problem.ts';

/** Longest row, in characters; longer means that the file is no table, or that a quote never ends. */
const rowLimit = 1_000_000;

interface Parsed {
  data: string[][];
  meta: { cursor: number };
}

/**
 * The rows of delimited text as its pieces come (RFC 4180, any line ending); blank rows are passed
 * over. The parser's own stream hands rows on one by one from an ever shifted list, which takes
 * minutes for a narrow file of some hundred thousand rows; its parser alone is as fast as it gets.
 */
export async function* readRows(
  text: AsyncIterable<string>,
  delimiter: string,
): AsyncGenerator<string[][]> {
  const parser = new Papa.Parser({ delimiter, newline: '\n' });
  const parse = (input: string, more: boolean) => parser.parse(input, 0, more) as Parsed;
  let rest = '';
  let rows = 0;
  for await (const piece of plainBreaks(text)) {
    const input = rest + piece;
    const { data, meta } = parse(input, true);
    rest = input.slice(meta.cursor);
    if (rest.length > rowLimit) throw endlessRow(rest, rows + data.length);
    rows += data.length;
    yield data.filter(isFilled);
  }
  if (rest.trim() !== '') yield parse(rest, false).data.filter(isFilled);
}

/** Every line ending as one line feed; a carriage return at the end of a piece waits for the next. */
async function* plainBreaks(text: AsyncIterable<string>): AsyncGenerator<string> {
  let held = '';
  for await (const piece of text) {
    let whole = held + piece;
    held = '';
    if (whole.endsWith('\r')) {
      held = '\r';
      whole = whole.slice(0, -1);
    }
    yield whole.includes('\r') ? whole.replace(/\r\n?/g, '\n') : whole;
  }
  if (held) yield '\n';
}

const isFilled = (cells: string[]) => cells.some((cell) => cell.trim() !== '');

function endlessRow(rest: string, rowsBefore: number): Problem {
  const quoted = rest.includes('"');
  // The header is the first of the rows before.
  const where = rowsBefore === 0 ? 'the header' : `row ${rowsBefore}`;
  return new Problem(
    422,
    'long-line',
    quoted && rest.includes('\n')
      ? `A quotation mark in ${where} or after it never ends, so the rest of the file runs into one cell. Mend the file; nothing was stored.`
      : 'The file has a line of over a million characters, so it does not look like a table with one row a patient. Nothing was stored.',
  );
}
