import { readFileSync } from 'node:fs';
import Papa from 'papaparse';
import type { Client } from './client.ts';

/**
 * Fleming & Harrington (1991): a liver disease, with gaps in many columns. The first 300 are the
 * study, of whom the last 60 are held out; the others are the later list.
 */
const { data } = Papa.parse<Record<string, string>>(
  readFileSync(new URL('../../../core/test/reference/data/pbc.csv', import.meta.url), 'utf8'),
  { header: true, skipEmptyLines: true },
);
const used = ['id', 'age', 'sex', 'bili', 'chol', 'albumin', 'protime', 'edema', 'stage', 'dead4y'];
const rows = data
  .filter(({ dead4y, stage }) => dead4y !== '' && stage !== '')
  .map((row): Record<string, string> => ({
    ...Object.fromEntries(used.map((name) => [name, row[name]])),
    id: `P${row.id.padStart(3, '0')}`,
    stage: `stage ${row.stage}`,
  }));
export const first = rows.slice(0, 260);
export const later = rows.slice(260);

/** A study of the first patients, of whom the rows from 201 on are held out. */
export async function liverStudy(
  client: Client,
  name: string,
  outcome: 'dead4y' | 'stage' | 'albumin',
): Promise<string> {
  const study = await client.newStudy(name);
  await client.bringIn(study, Papa.unparse(first), 'development', (dictionary) => {
    for (const entry of dictionary) {
      entry.role = 'predictor';
      if (entry.name === 'id') entry.role = 'identifier';
      if (entry.name === outcome) entry.role = 'outcome';
      if (['edema', 'dead4y'].includes(entry.name)) entry.kind = 'category';
      if (entry.name === 'dead4y') entry.levels = ['0', '1'];
    }
  });
  const choices = {
    dead4y: { event: '1', missedCost: 3 },
    stage: { kind: 'levels', reference: 'stage 1', cases: ['stage 4'] },
    albumin: { kind: 'number', caseFrom: 3, caseSide: 'up to' },
  } as const;
  await client.changeDesign(study, {
    ...(choices[outcome] as object),
    split: { way: 'by rows', from: 201, to: 260 },
  });
  return study;
}
