import { describe, expect, it } from 'vitest';
import { learnSurroundings, packModel, unlikeThen, unpackModel } from '../../src/model/index.ts';
import { choosePredictors, type PredictorColumn } from '../../src/preparation/index.ts';
import { alignToModel } from '../../src/screening/index.ts';
import { fittedModel } from './fitted-model.ts';

const { table, model } = fittedModel();
const names = model.predictors.map(({ name }) => name);
const columns = choosePredictors(table, names);
const rows = Int32Array.from({ length: table.rowCount }, (_, row) => row);
const surroundings = learnSurroundings(columns, rows)!;
const scores = unlikeThen(surroundings, columns, rows.length);

/** The column with one patient's value changed. */
const changed = (column: PredictorColumn, row: number, value: number): PredictorColumn =>
  column.type === 'number'
    ? { ...column, values: column.values.map((own, i) => (i === row ? value : own)) }
    : { ...column, codes: column.codes.map((own, i) => (i === row ? value : own)) };

describe('who is unlike the development patients', () => {
  it('is one in a hundred of these themselves', () => {
    expect(scores.every((score) => score > 0 && score < 1)).toBe(true);
    const above = scores.filter((score) => score > surroundings.unusualFrom);
    // 1% of 189 mothers, whose quantile stands between the second and the third.
    expect(above).toHaveLength(2);
  });

  it('is whoever has what nobody of them had', () => {
    const usual = scores.indexOf(scores.toSorted()[94]);
    const strange = columns.map((column) =>
      column.type === 'number' ? changed(column, usual, 10_000) : column,
    );
    const after = unlikeThen(surroundings, strange, rows.length);
    expect(scores[usual]).toBeLessThan(surroundings.unusualFrom);
    expect(after[usual]).toBeGreaterThan(surroundings.unusualFrom);
    for (const row of rows) if (row !== usual) expect(after[row]).toBe(scores[row]);
  });

  it('does not depend on the order of patients or columns', () => {
    const back = rows.toReversed();
    const turned = columns.map((column) =>
      column.type === 'number'
        ? { ...column, values: column.values.toReversed() }
        : { ...column, codes: column.codes.toReversed() },
    );
    const again = learnSurroundings(turned.toReversed(), back)!;
    expect(again.unusualFrom).toBe(surroundings.unusualFrom);
    expect([...unlikeThen(again, columns, rows.length)]).toEqual([...scores]);
  });

  it('goes with the model as it is kept, to the last bit', () => {
    const { json, bytes } = packModel({ ...model, surroundings });
    const kept = unpackModel({ json: JSON.parse(JSON.stringify(json)), bytes });
    expect(unlikeThen(kept.surroundings!, columns, rows.length)).toEqual(scores);
  });

  it('takes a list that lacks a column, and levels that nobody had', () => {
    const list = {
      ...table,
      dictionary: table.dictionary.filter(({ name }) => name !== 'ht'),
      columns: table.columns
        .map((column, j) =>
          table.dictionary[j].name === 'race' && column.type === 'coded'
            ? { ...column, levels: column.levels.map((level) => `another ${level}`) }
            : column,
        )
        .filter((_, j) => table.dictionary[j].name !== 'ht'),
    };
    const { columns: aligned } = alignToModel(model, list);
    const without = unlikeThen(surroundings, aligned, rows.length);
    expect(without.every((score) => score > 0 && score < 1)).toBe(true);
  });

  it('is not told of fewer than a hundred patients', () => {
    expect(learnSurroundings(columns, rows.slice(0, 99))).toBeUndefined();
    expect(learnSurroundings([], rows)).toBeUndefined();
  });
});
