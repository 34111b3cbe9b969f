import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { numbersOf } from '../../src/outcome/index.ts';
import { packModel, scoreRows, unpackModel } from '../../src/model/index.ts';
import { alignToModel } from '../../src/screening/index.ts';
import { tableFromText } from '../../src/table/index.ts';

/** Models as each version wrote them, with what it said of some of these made-up patients. */
const kept = JSON.parse(readFileSync(new URL('kept-models.json', import.meta.url), 'utf8')) as {
  header: string[];
  rows: string[][];
  asked: number[];
  /** The bytes of what is kept in arrays as base64. */
  models: Record<string, { model: unknown; bytes?: string; said: number[] }>;
};

describe('a model of an earlier version', () => {
  const table = tableFromText(kept.header, kept.rows);

  it.each(Object.keys(kept.models))('%s says of everybody what it said then', (version) => {
    const { model: json, bytes = '', said } = kept.models[version];
    const model = unpackModel({ json, bytes: Buffer.from(bytes, 'base64') });
    const { columns } = alignToModel(model, table);
    const numbers = numbersOf(scoreRows(model, columns, table.rowCount).predictions);
    const width = numbers.length / table.rowCount;
    const now = kept.asked.flatMap((row) => [...numbers.slice(row * width, (row + 1) * width)]);
    expect(now).toEqual(said);
    expect(unpackModel(packModel(model))).toEqual(model);
  });

  it('keeps an indicator of its own for each column with gaps, where none had to be supported', () => {
    const json = structuredClone(kept.models['version 1'].model) as {
      preparation: { gaps?: unknown; pooled?: unknown; filled: { column: string }[] };
    };
    delete json.preparation.gaps;
    delete json.preparation.pooled;
    const { preparation } = unpackModel({ json, bytes: new Uint8Array() });
    expect(preparation.steps[0]).toMatchObject({
      step: 'mark gaps',
      learned: { inputs: [{ columns: ['copper'] }, { columns: ['albumin'] }] },
    });
  });

  it('is refused where a step is of another kind than this version knows', () => {
    const { model } = kept.models['version 2, yes or no'];
    const bytes = new Uint8Array();
    const json = packModel(unpackModel({ json: model, bytes })).json as {
      preparation: { steps: { step: string }[] };
    };
    expect(() => unpackModel({ json, bytes })).not.toThrow();
    json.preparation.steps[1].step = 'guess gaps';
    expect(() => unpackModel({ json, bytes })).toThrow();
  });
});
