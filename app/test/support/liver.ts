import { readFileSync } from 'node:fs';
import Papa from 'papaparse';

/** Fleming & Harrington (1991): the liver trial, its stage in words. */
export function liver(): string {
  const text = readFileSync(
    new URL('../../../core/test/reference/data/pbc.csv', import.meta.url),
    'utf8',
  );
  const { data } = Papa.parse<Record<string, string>>(text, { header: true, skipEmptyLines: true });
  const names = ['id', 'age', 'sex', 'bili', 'albumin', 'edema', 'protime', 'stage'];
  return Papa.unparse(
    data.map((row) =>
      names.map((name) => (name === 'stage' && row.stage ? `stage ${row.stage}` : row[name])),
    ),
  ).replace(/^/, `${names.join(',')}\r\n`);
}
