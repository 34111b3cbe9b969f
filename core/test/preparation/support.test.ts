import { describe, expect, it } from 'vitest';
import { eventOutcome, fitEvent } from '../families/fit-event.ts';
import {
  applyPreparation,
  choosePredictors,
  effectsLike,
  fitPreparation,
  thinInputs,
  type FittedPreparation,
  type PredictorColumn,
} from '../../src/preparation/index.ts';
import { loadTable } from '../reference/load.ts';

const patients = 60;
const rows = Array.from({ length: patients }, (_, row) => row);
/** Every third patient has the event. */
const events = rows.map((row) => Number(row % 3 === 0));

/** A lab value that is not known in these rows. */
function lab(name: string, gaps: number[]): PredictorColumn {
  const values = Float64Array.from(rows, (row) => (gaps.includes(row) ? NaN : (row * 7) % 31));
  return { name, type: 'number', values };
}

/** A category whose level is given for the rows named; all others have the first. */
function category(
  name: string,
  levels: string[],
  who: Record<string, number[]>,
  ordered = false,
): PredictorColumn {
  const codes = Int32Array.from(rows, (row) => {
    const level = Object.keys(who).find((one) => who[one].includes(row));
    return level ? levels.indexOf(level) : 0;
  });
  return { name, type: 'coded', codes, levels, ordered };
}

const fit = (columns: PredictorColumn[]) => fitPreparation(columns, rows, eventOutcome(events));
const names = (preparation: FittedPreparation) => preparation.inputs.map(({ name }) => name);

describe('inputs with too few patients behind them', () => {
  it('gives no indicator to the gap of one patient, and keeps the value', () => {
    const { preparation } = fit([lab('copper', [7])]);
    expect(names(preparation)).toEqual(['copper']);
    expect(thinInputs(preparation)).toEqual([
      { what: 'gap', column: 'copper', patients: 1, events: 0 },
    ]);
  });

  it('gives none where all who lack it lack the event', () => {
    const { preparation } = fit([lab('copper', [1, 2, 4, 5, 7, 8, 10])]);
    expect(names(preparation)).toEqual(['copper']);
  });

  it('gives one where five lack it, two of them with the event', () => {
    expect(names(fit([lab('copper', [0, 3, 4, 5, 7])]).preparation)).toEqual([
      'copper',
      'copper not known',
    ]);
    expect(names(fit([lab('copper', [0, 3, 4, 5])]).preparation)).toEqual(['copper']);
  });

  it('lets columns that go empty together share one indicator', () => {
    const away = rows.slice(0, 20);
    const { preparation, inputs } = fit([
      lab('copper', [...away, 45]),
      lab('platelets', away),
      lab('albumin', away),
    ]);
    expect(names(preparation)).toEqual([
      'copper',
      'copper, platelets, albumin not known',
      'platelets',
      'albumin',
    ]);
    // Copper alone missing in patient 45 is no sign of having been away.
    expect(Array.from(inputs.columns[1])).toEqual(rows.map((row) => Number(row < 20)));
    expect(effectsLike(preparation, 'gap companions')).toContainEqual({
      what: 'gap companions',
      column: 'copper',
      others: [
        { column: 'platelets', without: 1 },
        { column: 'albumin', without: 1 },
      ],
    });
  });

  it('keeps two indicators apart where enough patients tell them apart', () => {
    const { preparation } = fit([lab('a', rows.slice(0, 30)), lab('b', rows.slice(0, 20))]);
    expect(names(preparation)).toEqual(['a', 'a not known', 'b', 'b not known']);
    const elsewhere = fit([lab('a', [0, 3, 1, 2, 4]), lab('b', [6, 9, 7, 8, 10])]);
    expect(names(elsewhere.preparation)).toEqual(['a', 'a not known', 'b', 'b not known']);
  });

  it('makes one level of thin ones that are enough together', () => {
    const site = category('site', ['A', 'B', 'C'], { B: [0, 1, 2], C: [3, 4, 5] });
    const { preparation, inputs } = fit([site]);
    expect(names(preparation)).toEqual(['site = other (B, C)']);
    expect(Array.from(inputs.columns[0])).toEqual(rows.map((row) => Number(row < 6)));
    expect(thinInputs(preparation)).toEqual([
      { column: 'site', what: 'level', level: 'B', into: 'other (B, C)', patients: 3, events: 1 },
      { column: 'site', what: 'level', level: 'C', into: 'other (B, C)', patients: 3, events: 1 },
    ]);
  });

  it('joins a level of one patient to the level with the nearest share of events', () => {
    // Of B two in three have the event, of A hardly any: the one patient of C, a case, is like B.
    const b = rows.filter((row) => row % 3 !== 1 && row > 20 && row < 50);
    const site = category('site', ['A', 'B', 'C'], { B: b, C: [0] });
    expect(names(fit([site]).preparation)).toEqual(['site = B or C']);
  });

  it('joins thin levels of an ordered column to their neighbours', () => {
    const grade = category(
      'grade',
      ['1', '2', '3', '4'],
      { 2: rows.slice(15, 35), 3: rows.slice(35, 58), 4: [58, 59] },
      true,
    );
    const { preparation } = fit([grade]);
    expect(names(preparation)).toEqual(['grade = 2', 'grade = 3 or 4']);
  });

  it('leaves a column out when its thin level is the only other one', () => {
    const { preparation } = fit([category('rare', ['no', 'yes'], { yes: [4] })]);
    expect(preparation.inputs).toEqual([]);
    expect(thinInputs(preparation)).toEqual([
      { column: 'rare', what: 'level', level: 'yes', into: null, patients: 1, events: 0 },
    ]);
  });

  it('leaves a number out that differs from the rest in a few patients only', () => {
    const troponin: PredictorColumn = {
      name: 'troponin',
      type: 'number',
      values: Float64Array.from(rows, (row) => (row < 3 ? row + 1 : 0)),
    };
    const { preparation } = fit([troponin]);
    expect(preparation.inputs).toEqual([]);
    expect(thinInputs(preparation)).toEqual([
      { column: 'troponin', what: 'number', patients: 3, events: 1 },
    ]);
  });

  it('keeps a prototype name apart from a level of that name', () => {
    const site = category('site', ['constructor', 'toString', '__proto__'], {
      toString: rows.slice(20, 40),
      __proto__: [0],
    });
    const { preparation, inputs } = fit([site]);
    expect(inputs.columns.every((column) => column.every(Number.isFinite))).toBe(true);
    expect(preparation.inputs).toHaveLength(1);
  });

  it('applies to later patients as it was learned, after a way through JSON', () => {
    const site = category('site', ['A', 'B', 'C'], { B: [0, 1, 2], C: [3, 4, 5] });
    const columns = [lab('copper', rows.slice(0, 20)), lab('albumin', rows.slice(0, 20)), site];
    const { preparation, inputs } = fit(columns);
    const again = JSON.parse(JSON.stringify(preparation)) as FittedPreparation;
    expect(applyPreparation(again, columns, rows)).toEqual(inputs);
  });
});

/** Fleming & Harrington (1991): 312 patients of a trial of the liver and 106 who stayed outside it. */
describe('patients of a liver trial', () => {
  const table = loadTable('pbc', (dictionary) => {
    for (const entry of dictionary)
      if (entry.name === 'status' || entry.name === 'stage') entry.kind = 'category';
  });
  const place = table.dictionary.findIndex(({ name }) => name === 'status');
  const status = table.columns[place];
  const dead = Int32Array.from((status as { codes: Int32Array }).codes, (code) =>
    Number((status as { levels: string[] }).levels[code] === '2'),
  );
  const predictors = ['age', 'sex', 'ascites', 'hepato', 'spiders', 'bili', 'chol', 'albumin'];
  const columns = choosePredictors(table, [...predictors, 'copper', 'ast', 'trig', 'platelet']);
  const all = Array.from({ length: table.rowCount }, (_, row) => row);

  it('has no coefficient that one patient could drive anywhere', () => {
    const { preparation, inputs } = fitPreparation(columns, all, eventOutcome(dead));
    const gaps = preparation.inputs.filter(({ kind }) => kind === 'gap');
    expect(gaps.some(({ columns: together }) => together?.includes('copper'))).toBe(true);
    const fitted = fitEvent('logistic', inputs, dead);
    expect(fitted.warnings.map(({ code }) => code)).not.toContain('separation');
    for (const { estimate, standardError } of fitted.coefficients!) {
      expect(Math.abs(estimate!)).toBeLessThan(6);
      expect(standardError).toBeLessThan(3);
    }
  });
});
