import { numbersOf } from '../../src/outcome/index.ts';
import { eventOutcome } from '../families/fit-event.ts';
import { describe, expect, it } from 'vitest';
import {
  arrangedStepSchema,
  choosePredictors,
  type ArrangedStep,
} from '../../src/preparation/index.ts';
import { describePredictors, scoreRows, type Model } from '../../src/model/index.ts';
import { alignToModel, unfamiliarOf } from '../../src/screening/index.ts';
import { tableFromText, type Table } from '../../src/table/index.ts';
import { fitPart } from '../../src/tuning/index.ts';
import { loadTable } from '../reference/load.ts';

/**
 * Fleming & Harrington (1991), Counting Processes and Survival Analysis: 418 patients with a liver
 * disease, 106 of them outside the trial, in whom nine columns are empty together.
 */
const names = ['age', 'bili', 'chol', 'copper', 'albumin', 'edema', 'platelet'];
const table = loadTable('pbc', (dictionary) => {
  for (const entry of dictionary) if (entry.name === 'edema') entry.kind = 'category';
});
const model = fit(table);

function fit(on: Table, steps: ArrangedStep[] = []): Model {
  const place = on.dictionary.findIndex(({ name }) => name === 'status');
  const status = on.columns[place];
  const events = Int8Array.from({ length: on.rowCount }, (_, row) =>
    Number(status.type === 'number' && status.values[row] === 2),
  );
  const rows = Int32Array.from({ length: on.rowCount }, (_, row) => row);
  const part = { name: 'all', learnRows: rows, predictRows: rows };
  const recipe = { family: 'logistic', settings: {}, seed: 1, steps };
  const { preparation, model: fitted } = fitPart(
    part,
    choosePredictors(on, names),
    eventOutcome(events),
    recipe,
  );
  return {
    format: 'rook-scale model',
    version: 4,
    study: 'liver',
    candidate: 'Logistic regression 1',
    outcome: {
      choice: { kind: 'event', column: 'status', event: '2' },
      label: '',
      unit: '',
      cases: { kind: 'event' },
    },
    development: {
      patients: on.rowCount,
      events: events.reduce((sum, event) => sum + event, 0),
    },
    predictors: describePredictors(on, names, rows),
    sources: [],
    preparation,
    family: { id: 'logistic', settings: {}, saved: fitted },
  };
}

const list = (rows: string[][], header = names) =>
  tableFromText(
    header,
    rows,
    table.dictionary
      .filter(({ name }) => header.includes(name))
      .sort((a, b) => header.indexOf(a.name) - header.indexOf(b.name)),
  );
const marked = (on: Table, by = model) =>
  Object.fromEntries(
    alignToModel(by, on).unfamiliar.map(({ name, rows }) => [name, Array.from(rows)]),
  );
//             age   bili  chol   copper albumin edema platelet
const usual = ['50', '1.4', '310', '73', '3.5', '0', '250'];
const but = (place: number, value: string) => usual.map((cell, i) => (i === place ? value : cell));

describe('values that hardly any development patient had', () => {
  it('are none among the development patients but where few had them', () => {
    // Two in the trial lack copper, the only ones of whom copper alone is not known; 28 lack
    // cholesterol and four lack it alone of what is asked here in a way nobody else does.
    const { unfamiliar } = alignToModel(model, table);
    const rows = new Set(unfamiliar.flatMap(({ rows: at }) => [...at.keys()].filter((i) => at[i])));
    expect(rows.size).toBeLessThan(12);
    expect(unfamiliar.find(({ name }) => name === 'copper')?.rows.reduce((a, b) => a + b)).toBe(2);
  });

  it('are a gap that came to hardly anyone, and not one that came to many', () => {
    expect(marked(list([usual, but(3, ''), usual]))).toEqual({ copper: [0, 1, 0] });
    // Cholesterol and copper empty together, as in those outside the trial.
    expect(marked(list([but(2, '').map((cell, i) => (i === 3 ? '' : cell))]))).toEqual({});
    expect(marked(list([but(6, '')]))).toEqual({});
  });

  it('are the same gaps where the analyst has them filled in several steps', () => {
    const fill = (column: string, how: string) =>
      arrangedStepSchema.parse({ step: 'fill', columns: [column], how });
    const arranged = fit(table, [fill('chol', 'mean'), fill('copper', 'median')]);
    const together = usual.map((cell, i) => (i === 2 || i === 3 ? '' : cell));
    const rows = list([usual, but(3, ''), together, but(6, '')]);
    expect(marked(rows, arranged)).toEqual({ copper: [0, 1, 0, 0] });
    expect(marked(rows, arranged)).toEqual(marked(rows));
  });

  it('are a column that the list does not have', () => {
    const header = names.filter((name) => name !== 'albumin');
    const without = usual.filter((_, i) => i !== 4);
    const { predictors, unfamiliar } = alignToModel(model, list([without, without], header));
    expect(unfamiliar.map(({ name }) => name)).toEqual(['albumin']);
    expect(predictors.find(({ name }) => name === 'albumin')?.unfamiliar).toEqual([
      { what: 'gap', then: 0, rows: 2 },
    ]);
  });

  it('are a new level, and one that few had', () => {
    const { predictors } = alignToModel(model, list([but(5, '0.75'), but(5, '0.5'), usual]));
    expect(predictors.find(({ name }) => name === 'edema')?.unfamiliar).toEqual([
      { what: 'level', level: '0.75', then: 0, rows: 1 },
    ]);
  });

  it('are numbers more than an SD beyond all that were seen, as of another unit', () => {
    expect(marked(list([but(1, '28'), but(1, '30'), but(1, '200')]))).toEqual({ bili: [0, 0, 1] });
  });

  it('are told of one patient too', () => {
    const values = { age: 50, bili: 1.4, chol: 310, albumin: 3.5, edema: '0', platelet: 250 };
    expect(unfamiliarOf(model, { ...values, copper: 73 })).toEqual([]);
    expect(unfamiliarOf(model, { ...values, copper: null })).toEqual([
      { name: 'copper', label: 'Copper', what: { what: 'gap', then: 2, besides: 'chol', rows: 1 } },
    ]);
  });

  it('move no risk to certainty', () => {
    const header = names.filter((name) => name !== 'copper');
    const without = usual.filter((_, i) => i !== 3);
    const met = alignToModel(model, list([without], header));
    const [risk] = numbersOf(scoreRows(model, met.columns, 1).predictions);
    const [known] = numbersOf(
      scoreRows(model, alignToModel(model, list([usual])).columns, 1).predictions,
    );
    expect(risk / known).toBeGreaterThan(0.5);
    expect(risk / known).toBeLessThan(2);
  });

  it('say what "not known" does to the usual patient', () => {
    const of = (on: Table, name: string) =>
      alignToModel(model, on).predictors.find((one) => one.name === name)!.treatment;
    expect(of(list([but(3, '')]), 'copper')).toMatch(
      /^1 not known: filled with the median 73; "not known" is an input of its own: it takes the usual patient from 0\.\d{3} to 0\.\d{3}$/,
    );
    expect(of(list([but(4, '')]), 'albumin')).toMatch(/does not count by itself$/);
  });
});
