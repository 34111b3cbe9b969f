import { describe, expect, it } from 'vitest';
import {
  correlation,
  midRanks,
  runsTest,
  surveyTable,
  type FindingCode,
} from '../../src/survey/index.ts';
import { isMissing, tableFromText, type Dictionary } from '../../src/table/index.ts';
import { loadTable, loadValues, numbers } from '../reference/load.ts';
import { randomStream } from '../../src/numeric/index.ts';

const draw = randomStream(5, 'survey test');
const range = (count: number) => Array.from({ length: count }, (_, i) => i);
const number = (mean: number, sd: number) => (mean + sd * draw.normal()).toFixed(1);

/** A table of these columns; `edit` is the analyst's dictionary. */
function table(
  columns: Record<string, (string | number)[]>,
  edit: (dictionary: Dictionary) => void = () => undefined,
) {
  const header = Object.keys(columns);
  const rows = range(Object.values(columns)[0].length).map((row) =>
    header.map((name) => String(columns[name][row])),
  );
  const guessed = tableFromText(header, rows).dictionary;
  edit(guessed);
  return tableFromText(header, rows, guessed);
}

const patients = range(200);
const age = patients.map(() => number(60, 10));

function find(code: FindingCode, from: Parameters<typeof surveyTable>) {
  return surveyTable(...from).filter((finding) => finding.code === code);
}

describe('odd columns', () => {
  it('a number that differs in every patient is like an identifier; a lab with decimals is not', () => {
    const found = find('identifier-like', [
      table({
        visit: patients.map((i) => 70_000 + 7 * i),
        age,
        crp: patients.map(() => number(9, 3)),
      }),
    ]);
    expect(found).toEqual([
      {
        code: 'identifier-like',
        columns: ['visit'],
        values: [],
        figures: { different: 200, patients: 200 },
      },
    ]);
  });

  it('measured whole numbers are no series; a dense one and one that rises through the file are', () => {
    const found = find('identifier-like', [
      table({
        days: patients.map((i) => 40 + ((i * 7919) % 200) * 21),
        row: patients.map((i) => ((i * 37) % 200) + 1),
        taken: patients.map((i) => i * i + 3),
      }),
    ]);
    expect(found.map(({ columns }) => columns[0])).toEqual(['row', 'taken']);
  });

  it('a grouped table is told from patients: counts, and every combination once', () => {
    // Breslow & Day (1980), Statistical Methods in Cancer Research, vol. 1: 88 groups of people.
    const grouped = loadTable('esoph');
    expect(find('counted rows', [grouped])).toEqual([
      {
        code: 'counted rows',
        columns: ['ncases', 'ncontrols'],
        values: [],
        figures: { rows: 88, patients: 975 },
      },
    ]);
    const patientsWithCounts = table({
      events: patients.map((i) => i % 5),
      sex: patients.map((i) => 'fm'[i % 2]),
      ward: patients.map((i) => 'ABC'[i % 3]),
    });
    expect(find('counted rows', [patientsWithCounts])).toEqual([]);
    expect(find('counted rows', [loadTable('infert')])).toEqual([]);
  });

  it('a column of one value, gaps aside', () => {
    const form = patients.map((i) => (i % 3 ? 'B2' : ''));
    const found = find('constant', [table({ form, device: patients.map(() => 4), age })]);
    expect(found.map(({ columns, figures }) => [columns[0], figures.patients])).toEqual([
      ['form', 133],
      ['device', 200],
    ]);
  });

  it('zeros far below the rest are implausible; those of counts and near the limit are not', () => {
    const zeroed = (values: string[]) => values.map((value, i) => (i % 50 === 0 ? '0' : value));
    const found = find('implausible zeros', [
      table({
        albumin: zeroed(patients.map(() => number(40, 4))),
        falls: patients.map((i) => i % 4),
        // A count in which one answer stands for "more than five".
        children: patients.map((i) => [0, 1, 2, 3, 4, 5.5][i % 6]),
        score: patients.map((i) => (i % 9 === 0 ? 0 : 20 + 5 * (i % 6))),
        troponin: zeroed(patients.map(() => (20 * draw.uniform() ** 3 + 0.1).toFixed(1))),
      }),
    ]);
    expect(found.length).toBe(1);
    expect(found[0]).toMatchObject({
      columns: ['albumin'],
      values: ['0'],
      figures: { patients: 4 },
    });
    expect(found[0].figures.least).toBeGreaterThan(20);
  });

  it('customary codes for missing: far from every value, below zero, beside small codes, in words', () => {
    const coded = (values: (string | number)[], code: string) =>
      values.map((value, i) => (i % 40 === 1 ? code : value));
    const found = find('code for missing', [
      table(
        {
          potassium: coded(
            patients.map(() => number(4.3, 0.4)),
            '99',
          ),
          stay: coded(
            patients.map((i) => i % 13),
            '-1',
          ),
          grade: coded(
            patients.map((i) => 1 + (i % 3)),
            '9',
          ),
          ward: coded(
            patients.map((i) => 'ABC'[i % 3]),
            'unknown',
          ),
          // Ninety-nine is a value like others here.
          saturation: patients.map((i) => 90 + (i % 10)),
        },
        (dictionary) => {
          dictionary[2].kind = 'category';
          delete dictionary[2].levels;
        },
      ),
    ]);
    expect(
      found.map(({ columns, values, figures }) => [...columns, ...values, figures.patients]),
    ).toEqual([
      ['potassium', '99', 5],
      ['stay', '-1', 5],
      ['grade', '9', 5],
      ['ward', 'unknown', 5],
    ]);
  });

  it('levels that differ only in capitals, spaces or accents; the usual spelling first', () => {
    const found = find('spelled twice', [
      table({
        hospital: patients.map((i) =>
          i % 10 ? 'Carrick Lea' : i % 20 ? 'carrick-lea' : 'Carrick léa',
        ),
        grade: patients.map((i) => ['<5', '>5'][i % 2]),
      }),
    ]);
    expect(found.length).toBe(1);
    expect(found[0].values[0]).toBe('Carrick Lea');
    expect(found[0]).toMatchObject({ columns: ['hospital'], figures: { patients: 20 } });
  });
});

describe('levels that are misspelt', () => {
  const spelt = (levels: [string, number][]) =>
    find('spelled twice', [
      table({ level: levels.flatMap(([level, count]) => new Array<string>(count).fill(level)) }),
    ]).map(({ values }) => values);

  it.each<[string, string]>([
    ['North', 'Nroth'],
    ['benign', 'bening'],
    ['malignant', 'malignnt'],
    ['hospital', 'hospitaal'],
    ['Carrick Lea', 'carrlck lea'],
  ])('are found beside the usual spelling: %s, %s', (usual, slip) => {
    expect(
      spelt([
        [usual, 200],
        ['other', 100],
        [slip, 3],
      ]),
    ).toEqual([[usual, slip]]);
  });

  it.each<[string, string, number]>([
    ['male', 'female', 3],
    ['mild', 'wild', 3],
    ['grade1', 'grade2', 3],
    ['stage ii', 'stage iii', 3],
    ['type a', 'type b', 3],
    ['smoker', 'smokers', 3],
    ['hypotension', 'hypertension', 3],
    ['sinus rhythm', 'sinus rhythm a', 3],
    // With 40 patients it is a level.
    ['north', 'nroth', 40],
  ])('are not found in other levels: %s, %s', (usual, other, count) => {
    expect(
      spelt([
        [usual, 200],
        [other, count],
      ]),
    ).toEqual([]);
  });
});

describe('columns that say nearly the same', () => {
  it('numbers by the correlation of their ranks, levels by following each other', () => {
    const creatinine = patients.map(() => 60 + 80 * draw.uniform());
    const found = find('near-duplicates', [
      table({
        creatinine: creatinine.map((value) => value.toFixed(1)),
        clearance: creatinine.map((value) => (9000 / value).toFixed(1)),
        age,
        sex: patients.map((i) => (i % 2 ? 'female' : 'male')),
        title: patients.map((i) => (i % 2 ? 'Ms' : 'Mr')),
      }),
    ]);
    expect(found.map(({ columns }) => columns)).toEqual([
      ['creatinine', 'clearance'],
      ['sex', 'title'],
    ]);
    expect(found[0].figures.correlation).toBeLessThan(-0.99);
  });
});

describe('columns against the outcome', () => {
  const events = Int8Array.from(patients, (i) => Number(i % 5 === 0));
  const rows = patients.filter((i) => i % 4 !== 0);
  const columns = {
    age,
    transfer: patients.map((i) => (events[i] && i % 3 ? 'yes' : 'no')),
    peak: patients.map((i) => (80 + 90 * events[i] + 10 * draw.normal()).toFixed(1)),
  };
  const outcome = { name: 'outcome', events, rows };

  it('finds those that give it away, by area or by a level', () => {
    const found = find('gives the answer away', [table(columns), outcome]);
    expect(found.map(({ columns: [name], values }) => [name, ...values])).toEqual([
      ['transfer', 'yes'],
      ['peak'],
    ]);
  });

  it('looks at the given rows only: what held-out patients have changes nothing', () => {
    const other = patients.map((i) => (rows.includes(i) ? columns.peak[i] : '1'));
    const flipped = Int8Array.from(events, (event, i) => (rows.includes(i) ? event : 1 - event));
    expect(
      find('gives the answer away', [
        table({ ...columns, peak: other }),
        { ...outcome, events: flipped },
      ]),
    ).toEqual(find('gives the answer away', [table(columns), outcome]));
  });

  it('says nothing about a few patients or a column known in few', () => {
    const sparse = patients.map((i) => (i % 10 ? '' : columns.peak[i]));
    expect(find('gives the answer away', [table({ sparse, age }), outcome])).toEqual([]);
    expect(
      find('gives the answer away', [table(columns), { ...outcome, rows: rows.slice(0, 6) }]),
    ).toEqual([]);
  });
});

describe('columns recorded after the outcome', () => {
  const many = range(1000);
  const events = Int8Array.from(many, (i) => Number(i % 10 === 0));
  const outcome = { name: 'sepsis', events, rows: many };
  const lab = many.map(() => number(40, 4));
  const codesOf = (columns: Record<string, (string | number)[]>) =>
    surveyTable(table(columns), outcome)
      .filter(({ code }) => /missing by|later by/.test(code))
      .map(({ code, columns: [name] }) => `${code}: ${name}`);

  it('by values that are missing, or known, in cases only', () => {
    expect(
      codesOf({
        // Known in every case and in 2% of the others.
        icu_grade: many.map((i) => (events[i] || i % 50 === 1 ? lab[i] : '')),
        // Missing in 20 of 100 cases and nobody else.
        urine: many.map((i) => (events[i] && i % 50 === 0 ? '' : lab[i])),
        // Missing in cases twice as often as in others: sicker patients are examined less.
        albumin: many.map((i) => (draw.uniform() < (events[i] ? 0.4 : 0.2) ? '' : lab[i])),
        crp: lab,
      }),
    ).toEqual(['missing by outcome: icu_grade', 'missing by outcome: urine']);
  });

  it('with its figures', () => {
    const urine = many.map((i) => (events[i] && i % 50 === 0 ? '' : lab[i]));
    const [found] = find('missing by outcome', [table({ urine, lab }), outcome]);
    expect(found.figures).toEqual({ missingCases: 20, cases: 100, missingOthers: 0, others: 900 });
  });

  it('hardly ever by chance, however common the outcome', () => {
    let found = 0;
    for (let round = 0; round < 300; round++) {
      const share = 0.02 + 0.96 * draw.uniform();
      const gaps = 0.02 + 0.96 * draw.uniform();
      const drawn = Int8Array.from(many, () => Number(draw.uniform() < share));
      const holed = table({ holed: lab.map((value) => (draw.uniform() < gaps ? '' : value)) });
      found += find('missing by outcome', [holed, { ...outcome, events: drawn }]).length;
    }
    expect(found).toBe(0);
  });

  it.each([
    'days_to_death',
    'dischargeDate',
    'weight_at_discharge',
    'post_op_creatinine',
    'length_of_stay',
    'days_on_unit_after',
    'sepsis_onset_day',
    'follow-up',
  ])('by name: %s', (name) => {
    expect(codesOf({ [name]: lab })).toEqual([`later by name: ${name}`]);
  });

  it.each([
    'family_history_of_death',
    'previous_discharge_days',
    'nasal_discharge',
    'postcode_band',
    'loss_of_weight',
    'days_since_last_visit',
    'afternoon_clinic',
    'prior_sepsis',
  ])('not by name: %s', (name) => {
    expect(codesOf({ [name]: lab })).toEqual([]);
  });
});

describe('units that differ by group', () => {
  const hospitals = patients.map((i) => ['Aldermoor', 'Brackwell', 'Coldharrow'][i % 3]);
  const levels = patients.map(() => 75 * Math.exp(0.35 * draw.normal()));
  const mixed = (factor: number, unit = 'µmol/L', scale = 1) =>
    find('units differ by group', [
      table(
        {
          hospital: hospitals,
          creatinine: levels.map((value, i) =>
            String(scale * (i % 3 === 1 ? value / factor : value)),
          ),
        },
        (dictionary) => {
          dictionary[1].unit = unit;
        },
      ),
    ]);

  it('are found with the conversion of this measure', () => {
    const [found] = mixed(88.4);
    expect(found).toMatchObject({ columns: ['creatinine', 'hospital'], values: ['Brackwell'] });
    expect(found.figures).toMatchObject({ factor: 88.4, offset: 0, patients: 67 });
  });

  it('in the other direction, as a power of ten, and as a factor that is not known', () => {
    expect(mixed(1 / 88.4, 'mg/dL', 1 / 88.4)[0].figures.factor).toBeCloseTo(1 / 88.4, 5);
    expect(mixed(10)[0].figures.factor).toBe(10);
    expect(mixed(30)[0].figures.factor).toBeUndefined();
    // Of an unknown measure nothing speaks for 100 where the ratio is 85.
    expect(mixed(85, 'U')[0].figures.factor).toBeUndefined();
  });

  it('in whatever unit the column is', () => {
    for (const scale of [1000, 0.01])
      expect(mixed(10, '', scale).map(({ values }) => values)).toEqual([['Brackwell']]);
  });

  it('not where patients of a hospital are sicker, nor between few patients', () => {
    expect(mixed(2)).toEqual([]);
    expect(mixed(1 / 2.5)).toEqual([]);
    const few = table({
      hospital: patients.map((i) => (i % 25 ? 'Aldermoor' : 'Brackwell')),
      creatinine: levels.map((value, i) => value / (i % 25 ? 1 : 88.4)),
    });
    expect(find('units differ by group', [few])).toEqual([]);
  });

  it('of temperature, whose conversion has an offset', () => {
    const [found] = find('units differ by group', [
      table(
        {
          ward: patients.map((i) => (i < 50 ? 'east' : 'west')),
          temperature: patients.map((i) => {
            const celsius = 37 + 0.6 * draw.normal();
            return (i < 50 ? 1.8 * celsius + 32 : celsius).toFixed(1);
          }),
        },
        (dictionary) => {
          dictionary[1].unit = '°C';
        },
      ),
    ]);
    expect(found.values).toEqual(['east']);
    expect(found.figures.factor).toBeCloseTo(5 / 9, 5);
    expect(found.figures.offset).toBeCloseTo(-160 / 9, 4);
  });
});

describe('rows', () => {
  it('counts patients who stand twice, by identifier', () => {
    const ids = [...patients.slice(0, 198), 3, 3].map((i) => `P${i}`);
    const [found] = find('duplicated patients', [
      table({ patient_id: ids, age }, (dictionary) => {
        dictionary[0].role = 'identifier';
      }),
    ]);
    expect(found).toMatchObject({
      columns: ['patient_id'],
      values: ['P3'],
      figures: { patients: 1, extraRows: 2, firstRow: 199 },
    });
  });

  it('and by all values where there is no identifier', () => {
    const [found] = find('duplicated patients', [
      table({ age: [...age.slice(0, 199), age[0]], crp: patients.map((i) => i % 199) }),
    ]);
    expect(found).toMatchObject({ columns: [], figures: { patients: 1, firstRow: 200 } });
  });

  it('sees a file sorted by outcome, and none where the order is by chance', () => {
    const sorted = Int8Array.from(patients, (i) => Number(i < 60));
    const mixed = Int8Array.from(patients, () => Number(draw.uniform() < 0.3));
    const about = (events: Int8Array) =>
      find('sorted by outcome', [table({ age }), { name: 'outcome', events, rows: patients }]);
    expect(about(sorted)[0].figures.runs).toBe(2);
    expect(about(mixed)).toEqual([]);
  });
});

describe('the statistics behind', () => {
  it('runs test: expected runs and z by the formulas of Wald & Wolfowitz (1940)', () => {
    // 5 and 5 in 2 runs: expected 2·5·5/10 + 1 = 6, variance 5·4/9; worked by hand.
    const { runs, expected, z } = runsTest([1, 1, 1, 1, 1, 0, 0, 0, 0, 0, -1])!;
    expect([runs, expected]).toEqual([2, 6]);
    expect(z).toBeCloseTo((2 - 6) / Math.sqrt(20 / 9), 12);
    expect(runsTest([1, 1, 1])).toBeUndefined();
  });

  it('ranks share ties, and gaps have none', () => {
    expect([...midRanks([3, NaN, 1, 3, 2])]).toEqual([3.5, NaN, 1, 3.5, 2]);
  });

  it('Pearson and Spearman of the urine data as an independent library gives them', () => {
    // Andrews & Herzberg (1985), Data, 77 complete rows; scipy 1.10.1, relative 1e-9.
    type Matrix = { names: string[]; matrix: number[][] };
    const expected = loadValues<{ pearson: Matrix; spearman: Matrix }>('correlation_urine');
    const urine = loadTable('urine');
    const complete = range(urine.rowCount).filter((row) =>
      urine.columns.every((column) => !isMissing(column, row)),
    );
    expect(complete.length).toBe(77);
    const values = (name: string) => {
      const all = numbers(urine, name);
      return Float64Array.from(complete, (row) => all[row]);
    };
    const { names, matrix } = expected.pearson;
    names.forEach((a, i) =>
      names.forEach((b, j) => {
        const [x, y] = [values(a), values(b)];
        expect(correlation(x, y)).toBeCloseTo(matrix[i][j], 9);
        expect(correlation(midRanks(x), midRanks(y))).toBeCloseTo(
          expected.spearman.matrix[i][j],
          9,
        );
      }),
    );
  });

  it('have no value where nothing varies or too little is known', () => {
    expect(correlation([1, 1, 1], [1, 2, 3])).toBeNaN();
    expect(correlation([1, 2, NaN], [1, 2, 3])).toBeNaN();
  });
});
