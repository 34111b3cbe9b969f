import type { SchemaElement } from 'hyparquet';
import { ByteWriter, ParquetWriter } from 'hyparquet-writer';
import { dictionaryRows, isMissing, showValue, type Dictionary } from '@rook-scale/core/table';
import { countRows, rowAt, type Exported } from './table.ts';

const rowsInGroup = 50_000;

/** Parquet with numbers as doubles, dates as dates, the rest as text; the dictionary is in its metadata. */
export async function* parquetFile(
  table: Exported,
  dictionary: Dictionary,
): AsyncGenerator<Uint8Array> {
  const writer = new ByteWriter();
  const parquet = new ParquetWriter({
    writer,
    schema: schemaOf(table),
    kvMetadata: [{ key: 'dictionary', value: JSON.stringify(dictionaryRows(dictionary)) }],
  });
  const count = countRows(table);
  for (let from = 0; from < count; from += rowsInGroup) {
    const size = Math.min(rowsInGroup, count - from);
    const rows = Array.from({ length: size }, (_, i) => rowAt(table, from + i));
    await parquet.write({
      columnData: table.columns.map((column, j) => ({
        name: table.dictionary[j].name,
        data: rows.map((row) => {
          if (isMissing(column, row)) return null;
          if (column.type !== 'number') return showValue(column, row);
          const value = column.values[row];
          return table.dictionary[j].kind === 'date' ? new Date(value * 86_400_000) : value;
        }),
      })),
      rowGroupSize: rowsInGroup,
    });
  }
  await parquet.finish();
  yield writer.getBytes();
}

function schemaOf(table: Exported): SchemaElement[] {
  return [
    { name: 'root', num_children: table.columns.length },
    ...table.columns.map((column, j): SchemaElement => {
      const { name, kind } = table.dictionary[j];
      const element = { name, repetition_type: 'OPTIONAL' as const };
      if (column.type !== 'number')
        return { ...element, type: 'BYTE_ARRAY', converted_type: 'UTF8' };
      return kind === 'date'
        ? { ...element, type: 'INT32', converted_type: 'DATE' }
        : { ...element, type: 'DOUBLE' };
    }),
  ];
}
