import { describe, expect, it } from 'vitest';
import {
  DesignError,
  allocateFolds,
  allocateHeldOut,
  defaultDesign,
  designSchema,
  divide,
  fitKey,
  openQuestions,
  patientKeys,
  patientsOf,
  side,
  startDesign,
} from '../../src/design/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import { tableFromText } from '../../src/table/index.ts';

/** Patients with an identifier and a rare outcome; some stand in the list twice. */
function patients(seed: number, count: number, twice = 0) {
  const draw = randomStream(seed, 'patients');
  const keys = Array.from({ length: count }, (_, i) => `patient ${i}`);
  const strata = keys.map(() => Number(draw.uniform() < 0.15));
  for (let i = 0; i < twice; i++) {
    keys.push(keys[i * 3]);
    strata.push(strata[i * 3]);
  }
  return { keys, strata };
}

/** A share by chance. */
const heldOutOf = (keys: string[], strata: number[], share: number, seed: number) =>
  allocateHeldOut(
    { patients: patientsOf(keys), strata, table: noColumns, seed, share, sealedShare: 0 },
    { way: 'by chance' },
  );

const noColumns = { rowCount: 0, dictionary: [], columns: [] };

const countWhere = (values: ArrayLike<number>, test: (value: number, i: number) => boolean) =>
  Array.from(values).filter(test).length;

describe('holding out patients', () => {
  it.each([
    [101, 0.25],
    [200, 0.2],
    [1007, 0.333],
    [53, 0.5],
  ])(
    'of %i patients, share %f: exact within one patient in each outcome level and in total',
    (count, share) => {
      for (let seed = 1; seed <= 20; seed++) {
        const { keys, strata } = patients(seed, count);
        const sides = heldOutOf(keys, strata, share, seed);
        expect(countWhere(sides, (s) => s === side.heldOut)).toBe(Math.round(share * count));
        for (const level of [0, 1]) {
          const inLevel = countWhere(strata, (s) => s === level);
          const heldOut = countWhere(sides, (s, i) => s === side.heldOut && strata[i] === level);
          expect(Math.abs(heldOut - share * inLevel)).toBeLessThan(1);
        }
      }
    },
  );

  it('gives the same split for the same seed, and another for another', () => {
    const { keys, strata } = patients(1, 300);
    const once = heldOutOf(keys, strata, 0.25, 7);
    expect(heldOutOf(keys, strata, 0.25, 7)).toEqual(once);
    expect(heldOutOf(keys, strata, 0.25, 8)).not.toEqual(once);
  });

  it('does not depend on the order of rows', () => {
    const { keys, strata } = patients(2, 300, 10);
    const sides = heldOutOf(keys, strata, 0.25, 7);
    const draw = randomStream(3, 'shuffle');
    const order = keys.map((_, i) => [draw.uniform(), i]).sort((a, b) => a[0] - b[0]);
    const shuffled = heldOutOf(
      order.map(([, i]) => keys[i]),
      order.map(([, i]) => strata[i]),
      0.25,
      7,
    );
    order.forEach(([, i], place) => expect(shuffled[place]).toBe(sides[i]));
  });

  it('keeps rows of one patient on one side', () => {
    const { keys, strata } = patients(4, 300, 40);
    const sides = heldOutOf(keys, strata, 0.25, 7);
    keys.forEach((key, i) => expect(sides[i]).toBe(sides[keys.indexOf(key)]));
  });

  it.each([0, 1, -0.2, NaN])('refuses a share of %f', (share) => {
    expect(() =>
      designSchema.parse({ ...defaultDesign, predictors: [], heldOutShare: share }),
    ).toThrow();
  });

  it('leaves rows without a known outcome on neither side', () => {
    const sides = heldOutOf(['a', 'b', 'c', 'd'], [0, -1, 1, 0], 0.5, 1);
    expect(sides[1]).toBe(side.unused);
  });
});

describe('folds', () => {
  it('differ by at most one patient, as a whole and in each outcome level', () => {
    for (let seed = 1; seed <= 20; seed++) {
      const { keys, strata } = patients(seed, 203);
      const rows = Int32Array.from(keys.keys()).filter((i) => i % 4 !== 0);
      const { folds } = allocateFolds(
        { patients: patientsOf(keys), strata, table: noColumns, rows, seed },
        { way: 'by chance', count: 5 },
      );
      const sizes = (test: (place: number) => boolean) =>
        [0, 1, 2, 3, 4].map((fold) => countWhere(folds, (f, place) => f === fold && test(place)));
      for (const test of [
        () => true,
        (p: number) => strata[rows[p]] === 1,
        (p: number) => strata[rows[p]] === 0,
      ]) {
        const counts = sizes(test);
        expect(Math.max(...counts) - Math.min(...counts)).toBeLessThanOrEqual(1);
      }
    }
  });
});

describe('patient keys', () => {
  const header = ['ref', 'age'];
  it('tell rows apart that are alike in everything', () => {
    const table = tableFromText(header, [
      ['1', '50'],
      ['1', '50'],
      ['2', '50'],
    ]);
    expect(new Set(patientKeys(table, -1)).size).toBe(3);
    expect(new Set(patientKeys(table, 0)).size).toBe(2);
  });
});

describe('carrying out a design', () => {
  const rows = Array.from({ length: 100 }, (_, i) => [
    `p${i}`,
    String(30 + (i % 50)),
    i % 5 === 0 ? 'yes' : i === 99 ? '' : 'no',
  ]);
  const table = tableFromText(['patient_id', 'age', 'event'], rows);
  const design = { ...defaultDesign, outcome: 'event', event: 'yes', predictors: ['age'] };

  it('counts both sides and the patients on neither', () => {
    const { counts, developmentRows, heldOutRows } = divide(table, design);
    expect(counts).toEqual({
      development: { patients: 74, events: 15 },
      heldOut: { patients: 25, events: 5 },
      unused: 1,
      folds: [15, 15, 15, 15, 14].map((patients) => ({ patients, events: 3 })),
    });
    expect(developmentRows.length + heldOutRows.length).toBe(99);
  });

  it('says in a sentence why it cannot be', () => {
    const one = tableFromText(
      ['patient_id', 'event'],
      rows.map(([id]) => [id, 'no']),
      [{ name: 'event', label: '', unit: '', kind: 'yes/no', role: 'outcome', missingCodes: [] }],
    );
    expect(() => divide(one, design)).toThrow(
      /lacks the event "yes": there is nothing to tell apart/,
    );
    const few = tableFromText(['patient_id', 'age', 'event'], rows.slice(0, 12));
    expect(() => divide(few, design)).toThrow(/Too few patients/);
    expect(() => divide(table, { ...design, outcome: 'age' })).toThrow(DesignError);
  });

  it('asks what is still open', () => {
    expect(openQuestions({ ...design, outcome: '', predictors: [] }, table.dictionary)).toEqual([
      'Choose the outcome.',
      'Choose at least one predictor.',
    ]);
    expect(openQuestions({ ...design, event: '' }, table.dictionary)).toEqual([
      'Choose which level of Event is the event.',
    ]);
    expect(openQuestions(design, table.dictionary)).toEqual([]);
  });

  it('starts from the roles of the dictionary, with no event chosen', () => {
    const dictionary = table.dictionary.map((entry) =>
      entry.name === 'event' ? { ...entry, role: 'outcome' as const } : entry,
    );
    expect(startDesign(dictionary)).toMatchObject({
      outcome: 'event',
      event: '',
      predictors: ['age'],
    });
  });

  it('has the same fit key when only costs differ, and another when the seed does', () => {
    expect(fitKey({ ...design, missedCost: 9 })).toBe(fitKey(design));
    expect(fitKey({ ...design, seed: 9 })).not.toBe(fitKey(design));
  });
});
