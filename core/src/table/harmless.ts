/**
 * A cell as it can be written to a file that a spreadsheet may open: one that begins like a formula
 * would be run, and gets an apostrophe, which makes it text there; so does one that begins with an apostrophe before
 * such a start, so that what is read back is what was written. Numbers stay as they are.
 * Source: common practice.
 *
 * @example harmlessCell('=1+1') is "'=1+1", harmlessCell('-5') is "-5"
 */
export function harmlessCell(cell: string): string {
  return runs.test(cell) && !number.test(cell) ? `'${cell}` : cell;
}

/**
 * The cell without the apostrophe that `harmlessCell` put before it.
 *
 * @example withoutApostrophe("'=1+1") is "=1+1"
 */
export function withoutApostrophe(cell: string): string {
  return cell.startsWith("'") && runs.test(cell.slice(1)) ? cell.slice(1) : cell;
}

const runs = /^'*[=+\-@\t\r\n|%]/;
const number = /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i;
