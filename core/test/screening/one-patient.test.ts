import { describe, expect, it } from 'vitest';
import {
  caseScoresOf,
  neighboursOf,
  scorePatient,
  typicalPatient,
  whatIfOne,
  type PatientValues,
} from '../../src/screening/index.ts';
import { numbersOf } from '../../src/outcome/index.ts';
import { fittedModel } from './fitted-model.ts';

const { model, risksOf, table } = fittedModel();

const riskOf = (values: PatientValues) => numbersOf(scorePatient(model, values).predictions)[0];

describe('one patient', () => {
  const valuesAt = (row: number): PatientValues =>
    Object.fromEntries(
      model.predictors.map(({ name }): [string, number | string | null] => {
        const column = table.columns[table.dictionary.findIndex((entry) => entry.name === name)];
        if (column.type === 'coded')
          return [name, column.codes[row] < 0 ? null : column.levels[column.codes[row]]];
        if (column.type === 'text') throw new Error('No model takes text.');
        return [name, Number.isNaN(column.values[row]) ? null : column.values[row]];
      }),
    );

  it('has the risk that the same values have in a list', () => {
    for (const row of [0, 1, 50, 188]) expect(riskOf(valuesAt(row))).toBe(risksOf(row));
  });

  it('may have nothing known, and takes a level nobody had for not known', () => {
    const nothing: PatientValues = Object.fromEntries(
      model.predictors.map(({ name }) => [name, null]),
    );
    const risk = riskOf(nothing);
    expect(risk).toBeGreaterThan(0);
    expect(risk).toBeLessThan(1);
    expect(riskOf({ ...nothing, race: 'unheard of' })).toBe(risk);
  });

  it('starts from medians and most common levels of the development patients', () => {
    const usual = typicalPatient(model);
    // Hosmer & Lemeshow (1989): of the 189 mothers, 96 have race 1 and 115 do not smoke.
    expect(usual).toMatchObject({ race: '1', smoke: 'no' });
    expect(usual.lwt).toBe(121);
  });

  it('what would change it: every level, and the range of each number, others as they are', () => {
    const values = valuesAt(0);
    const changes = whatIfOne(model, values);
    const race = changes.find((one) => one.name === 'race')!;
    expect(race.options.map(({ value }) => value)).toEqual(['1', '2', '3']);
    for (const { value, score } of race.options)
      expect(score).toBe(caseScoresOf(model, [{ ...values, race: value }])[0]);
    const weight = changes.find((one) => one.name === 'lwt')!.options;
    expect([weight[0].value, weight.at(-1)!.value]).toEqual([80, 250]);
    // The coefficient of the mother's weight is negative: the risk can only fall.
    weight.slice(1).forEach(({ score }, i) => expect(score).toBeLessThan(weight[i].score));
  });

  it('is judged by the development patients nearest to it, where the family judges so', () => {
    expect(neighboursOf(model, valuesAt(0))).toBeUndefined();
    const nearest = fittedModel('nearest-patients', {
      neighboursBy: 'given',
      neighbours: 6,
      added: 0,
    }).model;
    for (const row of [0, 50, 188]) {
      const { inputs, own, patients } = neighboursOf(nearest, valuesAt(row))!;
      // Who was learned from is the nearest to itself, with the values as they are in the file.
      expect(patients[0].distance).toBeCloseTo(0, 9);
      expect(patients.length).toBe(6);
      const values = valuesAt(row);
      inputs.forEach((input, j) => {
        const known = values[input];
        if (typeof known === 'number') expect(own[j]).toBeCloseTo(known, 9);
        else expect(own[j]).toBe(known);
      });
      const cases = patients.filter(({ outcome }) => outcome === 1).length;
      expect(numbersOf(scorePatient(nearest, values).predictions)[0]).toBeCloseTo(cases / 6, 12);
      patients
        .slice(1)
        .forEach(({ distance }, i) =>
          expect(distance).toBeGreaterThanOrEqual(patients[i].distance),
        );
    }
    // Nothing is known: nobody can be compared, and what all have is said.
    const nothing = Object.fromEntries(model.predictors.map(({ name }) => [name, null]));
    expect(neighboursOf(nearest, nothing)!.patients).toEqual([]);
    expect(numbersOf(scorePatient(nearest, nothing).predictions)[0]).toBeCloseTo(59 / 189, 12);
  });
});
