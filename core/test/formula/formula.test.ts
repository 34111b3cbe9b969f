import { describe, expect, it } from 'vitest';
import {
  columnReference,
  evaluateFormula,
  FormulaError,
  functions,
  kindOf,
  readFormula,
  rowsWhere,
} from '../../src/formula/index.ts';
import { showValue, tableFromText, type Table } from '../../src/table/index.ts';

const header = [
  'age',
  'creatinine',
  'sex',
  'grade',
  'diabetes',
  'born',
  'seen',
  'note',
  'blood urea',
];
const patients: Table = (() => {
  const rows = [
    ['40', '88', 'male', 'mild', 'yes', '1984-03-01', '2024-03-01', 'a', '5'],
    ['61.5', '', 'female', 'none', 'no', '1962-06-10', '2024-02-29', '', '7.5'],
    ['80', '176.8', 'female', 'severe', '', '', '2024-12-31', 'b', '0'],
  ];
  const { dictionary } = tableFromText(header, rows);
  const set = (name: string, part: object) =>
    Object.assign(
      dictionary.find((entry) => entry.name === name)!,
      part,
    );
  set('sex', { kind: 'category', levels: ['male', 'female'] });
  set('grade', { kind: 'ordered category', levels: ['none', 'mild', 'severe'] });
  set('diabetes', { kind: 'yes/no', levels: ['no', 'yes'] });
  set('born', { kind: 'date', levels: undefined });
  set('seen', { kind: 'date', levels: undefined });
  set('note', { kind: 'text', levels: undefined });
  for (const name of ['age', 'creatinine', 'blood urea'])
    set(name, { kind: 'number', levels: undefined });
  return tableFromText(header, rows, dictionary);
})();

/** What a formula gives, as it would be read in a table. */
function values(text: string): string[] {
  const { column, kind } = evaluateFormula(text, patients);
  return [0, 1, 2].map((row) => showValue(column, row, kind === 'date'));
}

function fault(text: string): { message: string; at: string } {
  try {
    readFormula(text, patients.dictionary);
  } catch (error) {
    if (error instanceof FormulaError)
      return { message: error.message, at: text.slice(error.from, error.to) };
    throw error;
  }
  throw new Error(`“${text}” was understood.`);
}

describe('arithmetic', () => {
  it.each([
    ['2 + 3 * 4', '14'],
    ['(2 + 3) * 4', '20'],
    ['2 * 3 ^ 2', '18'],
    // The power binds from the right and before the sign, as mathematics is written.
    ['2 ^ 3 ^ 2', '512'],
    ['-2 ^ 2', '-4'],
    ['2 ^ -1', '0.5'],
    ['10 - 4 - 3', '3'],
    ['100 / 10 / 2', '5'],
    ['1e2 + .5', '100.5'],
    ['7 − 2 × 3', '1'],
    ['round(2.456, 2)', '2.46'],
    ['round(2.5)', '3'],
    ['min(3, 1, 2) + max(3, 1, 2)', '4'],
    ['mean(1, 2, 6)', '3'],
    ['log(exp(2))', '2'],
    ['log10(1000)', '3'],
    ['sqrt(abs(-9))', '3'],
  ])('%s', (text, expected) => {
    expect(values(text)[0]).toBe(expected);
  });

  it('takes columns by name, in braces where the name is no plain word', () => {
    expect(values('creatinine / 88')).toEqual(['1', '', '2.0090909090909093']);
    expect(values('{blood urea} * 2')).toEqual(['10', '15', '0']);
    expect(values('{age}')).toEqual(['40', '61.5', '80']);
    expect(columnReference('blood urea')).toBe('{blood urea}');
    expect(columnReference('age')).toBe('age');
    expect(columnReference('not')).toBe('{not}');
  });

  it('is not known where a part is not, and where there is no number', () => {
    expect(values('age + creatinine')).toEqual(['128', '', '256.8']);
    expect(values('age / {blood urea}')).toEqual(['8', '8.2', '']);
    expect(values('log({blood urea} - 5)')[0]).toBe('');
    expect(values('sqrt(0 - 1)')).toEqual(['', '', '']);
    expect(values('max(age, creatinine)')[1]).toBe('');
  });
});

describe('conditions', () => {
  it.each([
    ['age >= 61.5', ['no', 'yes', 'yes']],
    ['age <> 40', ['no', 'yes', 'yes']],
    ['not age > 60', ['yes', 'no', 'no']],
    ["sex = 'female' and age < 70", ['no', 'yes', 'no']],
    ["sex = 'male' or age >= 80", ['yes', 'no', 'yes']],
    // and binds before or, not before both.
    ["sex = 'male' or sex = 'female' and age > 70", ['yes', 'no', 'yes']],
    ["grade >= 'mild'", ['yes', 'no', 'yes']],
    ["grade < 'severe'", ['yes', 'yes', 'no']],
    ["grade in ('mild', 'severe')", ['yes', 'no', 'yes']],
    ['age in (40, 80)', ['yes', 'no', 'yes']],
    ['-age in (-40, 80)', ['yes', 'no', 'no']],
    ['age in (40, creatinine - creatinine + 80)', ['yes', '', 'yes']],
    ["diabetes in ('no')", ['no', 'yes', '']],
    ["seen in ('2024-03-01', '1999-01-01')", ['yes', 'no', 'no']],
    ["seen >= '2024-03-01'", ['yes', 'no', 'yes']],
    ["'2024-03-01' > seen", ['no', 'yes', 'no']],
    ["diabetes = 'no'", ['no', 'yes', '']],
    ['known(creatinine)', ['yes', 'no', 'yes']],
    ["note = 'a'", ['yes', '', 'no']],
    ['age ≥ 80', ['no', 'no', 'yes']],
  ])('%s', (text, expected) => {
    expect(values(text)).toEqual(expected);
  });

  it('are three-valued: one known side may decide', () => {
    // Kleene (1952), Introduction to Metamathematics, §64: the strong tables.
    expect(values('diabetes and age > 100')).toEqual(['no', 'no', 'no']);
    expect(values('diabetes and age > 0')).toEqual(['yes', 'no', '']);
    expect(values('diabetes or age > 0')).toEqual(['yes', 'yes', 'yes']);
    expect(values('not diabetes')).toEqual(['no', 'yes', '']);
  });

  it('choose rows; where they are not known, none', () => {
    expect([...rowsWhere('diabetes', patients)]).toEqual([0]);
    expect([...rowsWhere('not diabetes', patients)]).toEqual([1]);
    expect([...rowsWhere('not known(diabetes)', patients)]).toEqual([2]);
    expect(() => rowsWhere('age + 1', patients)).toThrow(/A condition is needed/);
  });
});

describe('choices, bands, dates and counts', () => {
  it('if gives one or the other, levels in the order they are written', () => {
    const { column, kind } = evaluateFormula(
      "if(age < 50, 'young', if(age < 70, 'middle', 'old'))",
      patients,
    );
    expect(kind).toBe('category');
    expect(column).toMatchObject({ levels: ['young', 'middle', 'old'] });
    expect(values('if(diabetes, age, 0)')).toEqual(['40', '0', '']);
  });

  it('bands begin with their edge and keep their order', () => {
    const { column, kind } = evaluateFormula('bands(age, 40, 61.5)', patients);
    expect(kind).toBe('ordered category');
    expect(column).toEqual({
      type: 'coded',
      levels: ['below 40', '40 to 61.5', '61.5 and above'],
      codes: Int32Array.of(1, 2, 2),
    });
    expect(values("bands(creatinine, 100) = 'below 100'")).toEqual(['yes', '', 'no']);
  });

  it('dates: differences in days and years, also over a leap day', () => {
    expect(values('days(seen, born)')[0]).toBe('-14610');
    expect(values('round(years(born, seen), 2)')).toEqual(['40', '61', '']);
    expect(values('year(seen) + month(seen) / 100')).toEqual(['2024.03', '2024.02', '2024.12']);
    expect(kindOf(readFormula('seen', patients.dictionary), patients)).toBe('date');
  });

  it.each([
    ['2006-11-26', '2024-11-25', 17],
    ['2006-11-26', '2024-11-26', 18],
    ['2006-11-26', '2024-11-27', 18],
    ['2004-02-29', '2022-02-28', 17],
    ['2004-02-29', '2022-03-01', 18],
    ['2004-02-29', '2024-02-29', 20],
    ['2024-11-26', '2006-11-26', -18],
    ['2024-11-26', '2024-11-26', 0],
  ])('years from %s to %s are %i completed ones', (born, seen, years) => {
    const table = tableFromText(['born', 'seen'], [[born, seen]]);
    const { column } = evaluateFormula('years(born, seen)', table);
    expect(showValue(column, 0)).toBe(String(years));
  });

  it('gives nothing for the power 0 of what is not known', () => {
    const table = tableFromText(['x'], [['2'], [''], ['0']]);
    const { column } = evaluateFormula('x ^ 0', table);
    expect([0, 1, 2].map((row) => showValue(column, row))).toEqual(['1', '', '1']);
  });

  it('count counts conditions', () => {
    expect(values("count(age > 50, sex = 'female', known(creatinine))")).toEqual(['1', '2', '3']);
    expect(values('count(diabetes, age > 0)')).toEqual(['2', '1', '']);
  });

  it('firstknown takes the first that is known', () => {
    expect(values('firstknown(creatinine, age)')).toEqual(['88', '61.5', '176.8']);
    expect(values('firstknown(diabetes, age > 0)')).toEqual(['yes', 'no', 'yes']);
  });

  it('a copied column keeps its kind and levels', () => {
    expect(evaluateFormula('grade', patients).kind).toBe('ordered category');
    expect(evaluateFormula('sex', patients).column).toMatchObject({ levels: ['male', 'female'] });
  });
});

describe('faults say where and what', () => {
  it.each([
    ['', '', /Write a formula/],
    ['age +', '', /breaks off/],
    ['age 5', '5', /not expected here/],
    ['(age + 1', '(age + 1', /never closed/],
    ['max(age, 2', '(age, 2', /never closed/],
    ['age + * 2', '*', /missing before/],
    ["sex = 'male", "'male", /does not end/],
    ['{blood', '{blood', /column name begins/],
    ['age # 2', '#', /no meaning/],
    ['agee + 1', 'agee', /no column agee. Did you mean age\?/],
    ['weather', 'weather', /no column weather\.$/],
    ['maxx(1)', 'maxx(1)', /Did you mean max/],
    ["sex = 'man'", "'man'", /no level “man”. It has male, female/],
    ["seen > 'today'", "'today'", /not a date/],
    ["diabetes = 'maybe'", "'maybe'", /yes or no/],
    ['sex + 1', 'sex', /needs a number; this is a level/],
    ['seen - born', 'seen', /days\(a, b\)/],
    ['age and sex', 'age', /needs a condition/],
    ['sex > age', 'sex > age', /cannot be compared/],
    ["sex > 'male'", "sex > 'male'", /no order/],
    ['18 < age < 65', '<', /join them with and/],
    ['age in 3', '3', /in brackets/],
    ['age in ()', 'age in ()', /at least one/],
    ['if(diabetes, 1)', 'if(diabetes, 1)', /if takes a condition/],
    ["if(diabetes, 1, 'a')", "1, 'a'", /of one kind/],
    ['round(age, age)', 'age', /plain number/],
    ['bands(age, 60, 40)', '40', /must go up/],
    ['sqrt(1, 2)', 'sqrt(1, 2)', /takes 1 values, not 2/],
    ['days(age, seen)', 'age', /needs a date/],
    ['not age', 'age', /needs a condition/],
  ])('%s', (text, at, message) => {
    const found = fault(text);
    expect(found.message).toMatch(message);
    expect(found.at).toBe(at);
  });
});

describe('safety', () => {
  it('looks written values up, whatever their number, and counts other operations', () => {
    const many = Array.from({ length: 5000 }, (_, i) => i + 61.5).join(', ');
    expect(values(`age in (${many})`)).toEqual(['no', 'yes', 'no']);
    const large = { ...patients, rowCount: 1e9 };
    expect(() => rowsWhere('age > 40', large)).toThrow(/too long on this number of patients/);
    const sum = Array.from({ length: 600 }, () => 'age').join(' + ');
    expect(fault(sum).message).toMatch(/at most 1000 operations/);
  });

  it.each([
    'constructor',
    '__proto__',
    'process.exit(1)',
    'globalThis',
    'toString()',
    'this',
    'age.constructor',
    'age; 1',
    '`age`',
    'x => x',
    '{__proto__}',
    'constructor(1)',
    'hasOwnProperty(age)',
  ])('%s reaches nothing', (text) => {
    expect(() => readFormula(text, patients.dictionary)).toThrow(FormulaError);
  });

  it('nesting without end is refused, not crashed on', () => {
    expect(() => readFormula('('.repeat(5000) + '1' + ')'.repeat(5000), [])).toThrow(/too deeply/);
    expect(() => readFormula('-'.repeat(5000) + '1', [])).toThrow(/too deeply/);
  });

  it('a long sum is no nesting', () => {
    const { node } = readFormula(
      Array.from({ length: 500 }, () => 'age').join(' + '),
      patients.dictionary,
    );
    expect(node.node).toBe('binary');
  });
});

describe('the list of functions', () => {
  it('every example is written as its function takes it', () => {
    const number = (name: string) => ({ name, kind: 'number' as const });
    const columns = [
      ...['systolic_1', 'systolic_2', 'creatinine', 'crp', 'x', 'egfr', 'age', 'albumin'].map(
        number,
      ),
      ...['hypertension', 'heart_failure'].map((name) => ({ name, kind: 'yes/no' as const })),
      ...['admitted', 'discharged', 'born', 'clinic_date'].map((name) => ({
        name,
        kind: 'date' as const,
      })),
    ];
    for (const { example, gives } of functions)
      expect(readFormula(example, columns).type, example).toBe(gives);
  });

  it('names the columns that a formula reads', () => {
    expect(readFormula('if(diabetes, age, creatinine + age)', patients.dictionary).uses).toEqual([
      'diabetes',
      'age',
      'creatinine',
    ]);
  });
});
