import { withoutApostrophe } from '@rook-scale/core/table';
import type { Remark } from '../../contract/uploads.ts';
import { Problem } from '../ground/problem.ts';
import { cellTooLong, limits, tooManyCells, tooManyRows } from './limits.ts';
import { LastRows, looksLikeTotals } from './totals.ts';

/** What is done with the rows of a file, whatever its format. */
export interface RowReader {
  header: (names: string[]) => void;
  row: (cells: string[]) => void;
}

/** Takes the rows of any file one by one: the first names the columns, the others are patients. */
export class TableFeed {
  private header: NamedColumns | undefined;
  private rowCount = 0;
  private cellCount = 0;
  private readonly ragged: number[] = [];
  private readonly last: LastRows;

  constructor(
    private readonly reader: RowReader,
    private readonly leaveOutLast: number,
  ) {
    this.last = new LastRows(leaveOutLast, reader.row);
  }

  row(cells: string[]): void {
    if (!this.header) {
      this.header = nameColumns(cells);
      this.reader.header(this.header.names);
      return;
    }
    this.rowCount++;
    this.mindLimits(cells);
    if (cells.length !== this.header.names.length && this.ragged.length < 1000)
      this.ragged.push(this.rowCount + 1);
    this.last.push(cells);
  }

  private mindLimits(cells: string[]): void {
    if (this.rowCount > limits.rows) throw tooManyRows();
    this.cellCount += cells.length;
    if (this.cellCount > limits.cells) throw tooManyCells();
    for (let i = 0; i < cells.length; i++)
      if (cells[i].length > limits.cell)
        throw cellTooLong(this.rowCount, this.header!.names[i] ?? `Column ${i + 1}`);
  }

  /** Rows that were patients, and what should be known of how they were read. */
  result(): { rowCount: number; remarks: Remark[] } {
    if (!this.header) throw emptyFile();
    if (this.rowCount <= this.leaveOutLast)
      throw new Problem(
        422,
        'no-rows',
        'The file has a header but no rows. Nothing was stored; choose a file with patients in it.',
      );
    return {
      rowCount: this.rowCount - this.leaveOutLast,
      remarks: [
        ...describeOneColumn(this.header.names),
        ...describeTotals(this.last.newest, this.rowCount + 1),
        ...this.header.remarks,
        ...describeRagged(this.ragged),
      ],
    };
  }
}

export const emptyFile = () =>
  new Problem(422, 'empty-file', 'The file is empty. Nothing was stored; choose another file.');

interface NamedColumns {
  names: string[];
  remarks: Remark[];
}

/** A name for each column: empty and repeated ones are given one, which is said. */
function nameColumns(cells: string[]): NamedColumns {
  if (cells.length > limits.columns)
    throw new Problem(
      422,
      'too-many-columns',
      `The file has ${cells.length} columns; at most ${limits.columns} can be brought in. Leave out what the study does not need.`,
    );
  const taken = new Set<string>();
  const given: string[] = [];
  const names = cells.map((cell, position) => {
    const own = withoutApostrophe(cell.slice(0, 1000).trim()).slice(0, 200);
    let name = own || `column ${position + 1}`;
    for (let times = 2; taken.has(name); times++) name = `${own.slice(0, 190)} (${times})`;
    taken.add(name);
    if (name !== own) given.push(name);
    return name;
  });
  if (given.length === 0) return { names, remarks: [] };
  const shown = given.slice(0, 5).join(', ') + (given.length > 5 ? ' …' : '');
  const sentence = `The header leaves ${given.length === 1 ? 'a column' : `${given.length} columns`} without a name or uses one twice. They are called: ${shown}.`;
  return { names, remarks: [{ code: 'names', title: 'Names given', sentence }] };
}

function describeRagged(lines: number[]): Remark[] {
  if (lines.length === 0) return [];
  const shown = lines.slice(0, 3).join(', ');
  const count = lines.length >= 1000 ? 'Over 1,000' : String(lines.length);
  const sentence = `${count} ${lines.length === 1 ? 'row has' : 'rows have'} more or fewer cells than the header (line ${shown}${lines.length > 3 ? ' …' : ''}): missing cells are read as not known, extra ones are left out.`;
  return [{ code: 'uneven rows', title: 'Uneven rows', sentence }];
}

function describeTotals(newest: string[] | undefined, line: number): Remark[] {
  if (!newest || !looksLikeTotals(newest)) return [];
  const start = newest.slice(0, 3).filter(Boolean).join(', ');
  const sentence = `Line ${line} begins with ${start}: totals rather than a patient? As it stands it is read as one.`;
  return [{ code: 'totals', title: 'Totals at the end?', sentence }];
}

function describeOneColumn(names: string[]): Remark[] {
  if (names.length > 1) return [];
  const sentence = `The file is read as one column, ${names[0]}. If it has more, another mark parts its cells: choose it above the table.`;
  return [{ code: 'one column', title: 'One column only', sentence }];
}
