import { describe, expect, it } from 'vitest';
import { describePredictors, type Model } from '../../src/model/index.ts';
import { applyMatching, matchingSchema, suggestMatches } from '../../src/screening/index.ts';
import { tableFromText, type Dictionary, type Table } from '../../src/table/index.ts';
import { fittedModel } from './fitted-model.ts';

const { model: fitted } = fittedModel();

/** Twelve made-up patients with an age, a creatinine in µmol/L and a kind of operation. */
const known = table(
  ['age', 'creatinine', 'operation'],
  [...Array(12).keys()].map((i) => [
    String(50 + 2 * i),
    String(60 + 5 * i),
    ['heart', 'hip', 'bowel'][i % 3],
  ]),
  (dictionary) => (dictionary[1].unit = 'µmol/L'),
);
const model: Model = {
  ...fitted,
  predictors: describePredictors(
    known,
    ['age', 'creatinine', 'operation'],
    Int32Array.from({ length: 12 }, (_, row) => row),
  ),
};

function table(names: string[], rows: string[][], edit?: (dictionary: Dictionary) => void): Table {
  const read = tableFromText(names, rows);
  if (!edit) return read;
  edit(read.dictionary);
  return tableFromText(names, rows, read.dictionary);
}

const columnOf = ({ dictionary, columns }: Table, name: string) =>
  columns[dictionary.findIndex((entry) => entry.name === name)];

const levelsAt = (from: Table, name: string) => {
  const column = columnOf(from, name);
  return column.type === 'coded'
    ? [...column.codes].map((code) => (code < 0 ? null : column.levels[code]))
    : undefined;
};

describe('what a list may mean by a column', () => {
  const list = (
    columns: Record<string, string[]>,
    edit?: (dictionary: Dictionary) => void,
  ): Table =>
    table(
      Object.keys(columns),
      Object.values(columns)[0].map((_, row) => Object.values(columns).map((one) => one[row])),
      edit,
    );
  const ages = ['55', '61', '67', '58'];
  const creatinines = ['70', '95', '88', '81'];
  const operations = ['hip', 'heart', 'bowel', 'hip'];

  it('is nothing where every predictor is there in its own unit', () => {
    const same = list({ age: ages, creatinine: creatinines, operation: operations });
    expect(suggestMatches(model, same)).toEqual([]);
  });

  it('is told by a name that is alike and values in the same range', () => {
    const other = list({ age_years: ages, creatinin: creatinines, 'Operation!': operations });
    expect(suggestMatches(model, other)).toEqual(
      expect.arrayContaining([
        {
          predictor: 'age',
          column: 'age_years',
          reasons: ['a name that is alike', 'values in the same range'],
        },
        {
          predictor: 'creatinine',
          column: 'creatinin',
          reasons: ['a name that is alike', 'values in the same range'],
        },
        {
          predictor: 'operation',
          column: 'Operation!',
          reasons: ['the same label', 'the same levels'],
        },
      ]),
    );
  });

  it('reads mg/dL where only that fits: 88.4 µmol/L to the mg/dL', () => {
    const other = list({
      age: ages,
      serum_creatinine: ['0.8', '1.1', '1.0', '0.9'],
      operation: operations,
    });
    const [found] = suggestMatches(model, other);
    expect(found).toMatchObject({
      predictor: 'creatinine',
      column: 'serum_creatinine',
      conversion: { from: 'mg/dL', factor: 88.4, offset: 0 },
    });
    expect(found.reasons).toContain('values that fit when read as mg/dL');
  });

  it('says it of a predictor under its own name too, and of none that fits as it is', () => {
    const other = list({
      age: ages,
      creatinine: ['0.8', '1.1', '1.0', '0.9'],
      operation: operations,
    });
    expect(suggestMatches(model, other)).toEqual([
      {
        predictor: 'creatinine',
        column: 'creatinine',
        reasons: ['values that fit when read as mg/dL'],
        conversion: { from: 'mg/dL', factor: 88.4, offset: 0 },
      },
    ]);
    const empty = list({ age: ages, creatinine: ['', '', '', ''], operation: operations });
    expect(suggestMatches(model, empty)).toEqual([]);
  });

  it('takes the conversion that fits best: ÷ 10 is not mmol/L because that fits too', () => {
    const unknown = table(
      ['age', 'glucose', 'operation'],
      [...Array(40).keys()].map((i) => [
        String(40 + i),
        // From 14 to 260: a spread in which × 18 and × 10 both lie.
        (14 * 1.078 ** i).toFixed(3),
        ['heart', 'hip', 'bowel'][i % 3],
      ]),
    );
    const ofGlucose: Model = {
      ...fitted,
      predictors: describePredictors(
        unknown,
        ['age', 'glucose', 'operation'],
        Int32Array.from({ length: 40 }, (_, row) => row),
      ),
    };
    const divided = (factor: number) =>
      list({
        age: [...Array(40).keys()].map((i) => String(40 + i)),
        glucose: [...Array(40).keys()].map((i) => String((14 * 1.078 ** i) / factor)),
        operation: [...Array(40).keys()].map((i) => ['heart', 'hip', 'bowel'][i % 3]),
      });
    const suggested = (factor: number) =>
      suggestMatches(ofGlucose, divided(factor)).map(({ conversion }) => conversion!.factor);
    expect(suggested(10)).toEqual([10]);
    expect(suggested(100)).toEqual([100]);
    expect(suggested(1 / 0.0555)[0]).toBeCloseTo(1 / 0.0555, 6);
  });

  it('takes no column twice, no identifier, and nothing whose values cannot be meant', () => {
    const other = list(
      {
        operation: operations,
        age_at_visit: ages,
        creat: ['high', 'low', 'high', 'low'],
        creatinine_2: creatinines,
      },
      (dictionary) => (dictionary[1].role = 'identifier'),
    );
    expect(suggestMatches(model, other)).toMatchObject([
      { predictor: 'creatinine', column: 'creatinine_2' },
    ]);
  });

  it('is told by the label, whatever the name; a word that only looks alike is not', () => {
    const labelled = list(
      { q17: ages, creatinine: creatinines, operation: operations },
      (dictionary) => (dictionary[0].label = 'Age'),
    );
    expect(suggestMatches(model, labelled)).toEqual([
      { predictor: 'age', column: 'q17', reasons: ['the same label', 'values in the same range'] },
    ]);
    // Two letters of three are alike, and the values lie elsewhere.
    const stranger = list({
      ape: ['1', '0', '0', '1'],
      creatinine: creatinines,
      operation: operations,
    });
    expect(suggestMatches(model, stranger)).toEqual([]);
  });

  it('says that the unit is the same where both name it', () => {
    const other = list(
      { age: ages, creatinine_s: creatinines, operation: operations },
      (dictionary) => (dictionary[1].unit = 'umol/l'),
    );
    expect(suggestMatches(model, other)[0].reasons).toEqual([
      'a name that is alike',
      'the same unit',
      'values in the same range',
    ]);
  });
});

describe('a list with its columns matched', () => {
  const list = table(
    ['id', 'creat', 'kind', 'age'],
    [
      ['A1', '0.8', 'knee', '61'],
      ['A2', '', 'cardiac', '70'],
      ['A3', '2', '', '48'],
      ['A4', '1', 'unclear', '55'],
    ],
  );

  it('has numbers in the unit of the model, and gaps that stay gaps', () => {
    const conversion = { from: 'mg/dL', factor: 88.4, offset: 0 };
    const matched = applyMatching(list, [{ predictor: 'creatinine', column: 'creat', conversion }]);
    expect(matched.dictionary.map(({ name }) => name)).toEqual(['id', 'kind', 'age', 'creatinine']);
    const column = columnOf(matched, 'creatinine');
    expect(column.type === 'number' && [...column.values]).toEqual([
      0.8 * 88.4,
      NaN,
      2 * 88.4,
      88.4,
    ]);
    // The list itself is as it was.
    expect(columnOf(list, 'creat')).toMatchObject({ type: 'number' });
    expect(columnOf(list, 'creatinine')).toBeUndefined();
  });

  it('has levels under the names of the model; two may become one, and one nothing', () => {
    const matched = applyMatching(list, [
      {
        predictor: 'operation',
        column: 'kind',
        levels: [
          { from: 'knee', to: 'hip' },
          { from: 'cardiac', to: 'heart' },
          { from: 'unclear', to: '' },
        ],
      },
    ]);
    expect(levelsAt(matched, 'operation')).toEqual(['hip', 'heart', null, null]);
    const one = applyMatching(list, [
      {
        predictor: 'operation',
        column: 'kind',
        levels: [{ from: 'knee', to: 'cardiac' }],
      },
    ]);
    expect(levelsAt(one, 'operation')).toEqual(['cardiac', 'cardiac', null, 'unclear']);
  });

  it('puts the matched column in the place of one that has the name already', () => {
    const matched = applyMatching(list, [{ predictor: 'age', column: 'creat' }]);
    expect(matched.dictionary.map(({ name }) => name)).toEqual(['id', 'kind', 'age']);
    const column = columnOf(matched, 'age');
    expect(column.type === 'number' && column.values[0]).toBe(0.8);
  });

  it('is as it was where no matched column is there', () => {
    expect(applyMatching(list, [{ predictor: 'age', column: 'nowhere' }])).toBe(list);
    expect(applyMatching(list, [])).toBe(list);
  });

  it('cannot be matched twice with one predictor, nor by a factor of 0', () => {
    const twice = [
      { predictor: 'age', column: 'a' },
      { predictor: 'age', column: 'b' },
    ];
    expect(matchingSchema.safeParse(twice).error!.issues[0].message).toContain('Choose one');
    const zero = [
      { predictor: 'age', column: 'a', conversion: { from: '', factor: 0, offset: 1 } },
    ];
    expect(matchingSchema.safeParse(zero).error!.issues[0].message).toContain('cannot be 0');
    expect(matchingSchema.safeParse([twice[0]]).success).toBe(true);
  });
});
