import { describe, expect, it } from 'vitest';
import type { Model } from '@rook-scale/core/model';
import {
  scoreHead,
  showArea,
  showAreaInterval,
  showInterval,
  showNumber,
  showP,
  showRisk,
} from '../../src/browser/format.ts';
import { readNumber, showDigits, showExact, showFixed } from '../../src/browser/numbers.ts';

describe('numbers in words', () => {
  it('have a dash for a p that there is not, and no p of 0', () => {
    expect([null, undefined, NaN].map(showP)).toEqual(['–', '–', '–']);
    expect([0, 0.0004, 0.0499, 1].map(showP)).toEqual(['<0.001', '<0.001', '0.050', '1.000']);
  });

  it('have one minus sign, and none before zero', () => {
    expect([-0.04, 0, -12.34].map((value) => showFixed(value, 1))).toEqual(['0.0', '0.0', '−12.3']);
    expect(showInterval([-1.5, 2])).toBe('−1.50 – 2.00');
  });

  it('call no risk certain, and no area that is not', () => {
    expect([0.9999, 0.9994, 0.0001, 0.42].map(showRisk)).toEqual([
      ...['>0.999', '0.999', '<0.001', '0.420'],
    ]);
    expect([0.999, 0.99996, 0.9999999, 1].map((area) => showArea(area))).toEqual([
      ...['0.999', '0.99996', '>0.99999', '1.00'],
    ]);
    expect(showAreaInterval([0.9712, 0.9991])).toBe('0.97 – 0.999');
  });
});

describe('numbers in print', () => {
  it('have no more digits than asked for, and thousands apart', () => {
    expect(
      [4.803999999999999, 0.30000000000000004, 123456, 2024, -0].map((x) => showDigits(x, 4)),
    ).toEqual([...['4.804', '0.3', '123,500', '2024', '0']]);
    expect([-1234567.25, 1e21, 1e-7, -0.5].map(showExact)).toEqual([
      ...['−1,234,567.25', '1e21', '1e−7', '−0.5'],
    ]);
    expect([12345.678, -1234.5, undefined].map((x) => showFixed(x, 1))).toEqual([
      ...['12,345.7', '−1,234.5', '–'],
    ]);
    expect([-4.5678, -1e-9, 2e7, -45678].map((x) => showNumber(x))).toEqual([
      ...['−4.568', '−1.00e−9', '2.00e7', '−45,678'],
    ]);
  });
});

describe('numbers that are typed', () => {
  it('are read as they are written', () => {
    const written = [
      '10,000',
      '1,234,567.5',
      '12 500',
      '2,5',
      '0,125',
      '1500',
      '−3.5',
      '-3',
      '.5',
      '5.',
      '1e-3',
    ];
    expect(written.map(readNumber)).toEqual([
      1e4, 1234567.5, 12500, 2.5, 0.125, 1500, -3.5, -3, 0.5, 5, 1e-3,
    ]);
  });

  it('are none where they could be two', () => {
    for (const text of [
      '',
      ' ',
      '1,2,3',
      '1,23,456',
      '1.234.567',
      '12,5000.5',
      'ten',
      '1e',
      '0x10',
      'Infinity',
    ])
      expect(readNumber(text)).toBeNaN();
  });

  it('come back from print', () => {
    for (const value of [0, -1, 12, 1234, 99999, -123456.75, 1e6, 3.25e-8])
      for (const print of [showExact, (x: number) => showDigits(x, 12)])
        expect(readNumber(print(value))).toBe(value);
  });
});

describe('the head of a score', () => {
  const outcome = (choice: object, cases: object) =>
    ({ choice, label: 'Diagnosis', cases, unit: '' }) as unknown as Model['outcome'];
  const head = (event: string) =>
    scoreHead(outcome({ kind: 'event', column: 'd', event }, { kind: 'event' }));

  it('names the level that the risk is of, unless it is yes', () => {
    expect(['M', 'yes', 'Yes'].map(head)).toEqual([
      ...['Risk of diagnosis = M', 'Risk of diagnosis', 'Risk of diagnosis'],
    ]);
    expect(
      scoreHead(
        outcome({ kind: 'levels', column: 'd' }, { kind: 'levels', levels: ['mild', 'severe'] }),
      ),
    ).toBe('Share of mild or severe in diagnosis');
    expect(
      scoreHead(
        outcome({ kind: 'number', column: 'd' }, { kind: 'number', value: 1, side: 'from' }),
      ),
    ).toBe('Predicted diagnosis');
  });
});
