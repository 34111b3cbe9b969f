import { describe, expect, it } from 'vitest';
import type { Model } from '@rook-scale/core/model';
import {
  scoreHead,
  showArea,
  showAreaInterval,
  showFixed,
  showInterval,
  showP,
  showRisk,
} from '../../src/browser/format.ts';

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
