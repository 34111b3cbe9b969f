/** Hands rows on, but keeps back so many at the end of the file. */
export class LastRows {
  /** The last row that is not left out. */
  newest: string[] | undefined;
  private readonly held: string[][] = [];

  constructor(
    private readonly leaveOut: number,
    private readonly next: (cells: string[]) => void,
  ) {}

  push(cells: string[]): void {
    if (this.leaveOut > 0) {
      this.held.push(cells);
      if (this.held.length <= this.leaveOut) return;
      cells = this.held.shift()!;
    }
    this.newest = cells;
    this.next(cells);
  }
}

const totalWords =
  /^(grand )?(total|totals|sum|subtotal|average|mean|median|overall|count|n|summe|gesamt|mittelwert)\b[:.]?$|^(n|count|total)\s*[=:]\s*\d+$/i;

/** Whether a row reads like a spreadsheet's totals: its first filled cell says so. */
export function looksLikeTotals(cells: string[]): boolean {
  const first = cells.map((cell) => cell.trim()).find((cell) => cell !== '');
  return first !== undefined && totalWords.test(first);
}
