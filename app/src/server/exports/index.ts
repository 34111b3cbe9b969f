import type { Dictionary, Table } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { loadTable } from '../cohorts/index.ts';
import { csvFile } from './csv.ts';
import { parquetFile } from './parquet.ts';
import { rowsOfSide, withMarks, type Side } from './side.ts';
import { withoutSealedOutcomes } from './sealed-outcomes.ts';
import { workbookFile } from './workbook.ts';
import type { Exported } from './table.ts';

/** Writes a table as a file, piece by piece. */
export interface ExportFormat {
  id: string;
  name: string;
  extension: string;
  type: string;
  write: (table: Exported, dictionary: Dictionary) => AsyncIterable<Uint8Array>;
}

/** Every format a cohort can be taken out in. A new one is added here. */
export const exportFormats: ExportFormat[] = [
  { id: 'csv', name: 'CSV', extension: 'csv', type: 'text/csv; charset=utf-8', write: csvFile },
  {
    id: 'xlsx',
    name: 'workbook',
    extension: 'xlsx',
    type: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    write: workbookFile,
  },
  {
    id: 'parquet',
    name: 'Parquet',
    extension: 'parquet',
    type: 'application/vnd.apache.parquet',
    write: parquetFile,
  },
];

/**
 * A cohort, or one side of its split, as a file to be sent.
 *
 * @param marked with two columns more, which say side and fold of each patient
 */
export async function exportCohort(
  cohort: CohortInfo,
  format: ExportFormat,
  side: Side,
  marked = false,
): Promise<{ name: string; body: ReadableStream<Uint8Array> }> {
  const rows = await rowsOfSide(cohort, side);
  const plain = onePerRow(await withoutSealedOutcomes(cohort, await loadTable(cohort)));
  const table = marked ? await withMarks(cohort, plain) : plain;
  const pieces = format.write({ ...table, rows }, table.dictionary)[Symbol.asyncIterator]();
  const suffix = side === 'all' ? '' : `, ${side}`;
  return {
    name: `${cohort.name}${suffix}.${format.extension}`,
    body: new ReadableStream({
      async pull(controller) {
        const next = await pieces.next();
        if (next.done) controller.close();
        else controller.enqueue(next.value);
      },
      async cancel() {
        await pieces.return?.(undefined);
      },
    }),
  };
}

/** Of a grouped table every patient is a row by now, and so is counted once in what is sent. */
function onePerRow(table: Table): Table {
  const isCount = (i: number) => table.dictionary[i].role === 'number of patients';
  const ones = () => new Float64Array(table.rowCount).fill(1);
  return {
    ...table,
    columns: table.columns.map((column, i) =>
      isCount(i) ? { type: 'number', values: ones() } : column,
    ),
  };
}

export { sides, type Side } from './side.ts';
