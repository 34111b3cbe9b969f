/**
 * A cell as it can be written to a file that a spreadsheet may open: one that begins like a formula
 * would be run, and gets an apostrophe, which makes it text there. Numbers stay as they are.
 * Source: common practice.
 */
export function harmlessCell(cell: string): string {
  return runs.test(cell) && !number.test(cell) ? `'${cell}` : cell;
}

/** The cell without the apostrophe that `harmlessCell` put before it. */
export function withoutApostrophe(cell: string): string {
  return cell.startsWith("'") && runs.test(cell.slice(1)) ? cell.slice(1) : cell;
}

const runs = /^[=+\-@\t\r\n|%]/;
const number = /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i;
