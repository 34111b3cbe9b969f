import Papa from 'papaparse';
import { Problem } from '../ground/problem.ts';

/** Longest row, in characters; longer means that the file is no table, or that a quote never ends. */
const rowLimit = 1_000_000;

interface Parsed {
  data: string[][];
  errors: { code: string }[];
  meta: { cursor: number };
}

/** A cell that holds line breaks, which a missing quotation mark may have put there. */
export interface BrokenCell {
  /** Row of the file, the header being 1, and line of the text on which it begins. */
  row: number;
  line: number;
  column: number;
  breaks: number;
}

/**
 * The rows of delimited text as its pieces come (RFC 4180, any line ending); blank rows are passed
 * over. The parser's own stream hands rows on one by one from an ever shifted list, which takes
 * minutes for a narrow file of some hundred thousand rows; its parser alone is as fast as it gets.
 * Refuses text in which a quotation mark swallows rows.
 *
 * @param broken is told of every cell with line breaks
 */
export async function* readRows(
  text: AsyncIterable<string>,
  delimiter: string,
  broken: (cell: BrokenCell) => void = () => undefined,
): AsyncGenerator<string[][]> {
  const parser = new Papa.Parser({ delimiter, newline: '\n' });
  const parse = (input: string, more: boolean) => parser.parse(input, 0, more) as Parsed;
  let rest = '';
  let rows = 0;
  let line = 1;
  let width = 0;
  const looked = (data: string[][]) => {
    width ||= data[0]?.length ?? 0;
    for (const cells of data) {
      rows++;
      const breaks = cells.map((cell) => breaksIn(cell));
      breaks.forEach((count, column) => {
        if (count === 0) return;
        const found = { row: rows, line, column, breaks: count };
        if (swallowsRows(cells[column], count, width, delimiter)) throw swallowed(found);
        broken(found);
      });
      line += 1 + breaks.reduce((sum, count) => sum + count, 0);
    }
    return data.filter(isFilled);
  };
  for await (const piece of plainBreaks(text)) {
    const input = rest + piece;
    const { data, meta } = parse(input, true);
    rest = input.slice(meta.cursor);
    if (rest.length > rowLimit) throw endlessRow(rest, rows + data.length);
    yield looked(data);
  }
  if (rest.trim() === '') return;
  const { data, errors } = parse(rest, false);
  if (errors.some(({ code }) => code === 'MissingQuotes'))
    throw unclosed(rows + Math.max(1, data.length));
  yield looked(data);
}

function breaksIn(cell: string): number {
  let count = 0;
  for (let at = cell.indexOf('\n'); at >= 0; at = cell.indexOf('\n', at + 1)) count++;
  return count;
}

/** In tables of fewer columns a note with some commas would look like rows. */
const fewestColumns = 6;

/** Whether the lines in a cell hold about as many delimiters as whole rows would. */
function swallowsRows(cell: string, breaks: number, width: number, delimiter: string): boolean {
  return width >= fewestColumns && cell.split(delimiter).length - 1 >= 0.5 * breaks * (width - 1);
}

const swallowed = ({ row, line, breaks }: BrokenCell) =>
  new Problem(
    422,
    'quotation-mark',
    `A quotation mark in row ${row} (line ${line}) closes ${breaks} ${breaks === 1 ? 'line' : 'lines'} further down, so ${breaks + 1} rows run into one cell. Correct the quotation marks there; nothing was stored.`,
  );

const unclosed = (row: number) =>
  new Problem(
    422,
    'quotation-mark',
    `A quotation mark in row ${row} never closes, so the rest of the file runs into one cell. Correct the quotation mark there; nothing was stored.`,
  );

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
