import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import {
  ckdEpi2021,
  developmentCohort,
  externalCohort,
  nextWeekList,
  toCsv,
  type DemoCohort,
} from '../index.ts';

const column = ({ header, rows }: DemoCohort, name: string) =>
  rows.map((row) => row[header.indexOf(name)]);
const share = (cells: string[], test: (cell: string) => boolean) =>
  cells.filter(test).length / cells.length;

describe('demo cohorts', () => {
  it.each([
    ['development-cohort.csv', developmentCohort],
    ['external-cohort.csv', externalCohort],
    ['next-week.csv', nextWeekList],
  ])('%s in the repository is what the generator writes', (file, make) => {
    expect(readFileSync(new URL(`../files/${file}`, import.meta.url), 'utf8')).toBe(toCsv(make()));
  });

  it('hold the traps of real extracts', () => {
    const cohort = developmentCohort();
    expect(share(column(cohort, 'glycated_haemoglobin'), (cell) => cell === '')).toBeGreaterThan(
      0.6,
    );
    expect(column(cohort, 'albumin')).toContain('0');
    expect(column(cohort, 'smoking')).toContain('9');
    expect(new Set(column(cohort, 'clinic_form')).size).toBe(1);
    expect(new Set(column(cohort, 'hospital'))).toEqual(
      new Set(['Fennmoor', 'Carrick Lea', 'Carrick lea']),
    );
    expect(new Set(column(cohort, 'reference')).size).toBeLessThan(cohort.rows.length);
    expect(share(column(cohort, 'injury_7_days'), (cell) => cell === 'yes')).toBeCloseTo(0.14, 1);
  });

  it('leave the outcome of next week open', () => {
    expect(nextWeekList().header).not.toContain('injury_7_days');
  });
});

describe('CKD-EPI 2021', () => {
  it.each([
    // By hand from the equation in Inker et al. (2021), N Engl J Med 385:1737: at the knot the
    // creatinine terms are 1, so that only age and sex are left.
    [0.7 * 88.4, 50, true, 142 * 0.9938 ** 50 * 1.012],
    [0.9 * 88.4, 50, false, 142 * 0.9938 ** 50],
    [1.8 * 88.4, 50, false, 142 * 2 ** -1.2 * 0.9938 ** 50],
  ])('at %f µmol/L', (creatinine, age, female, expected) => {
    expect(ckdEpi2021(creatinine, age, female)).toBeCloseTo(expected, 10);
  });
});
