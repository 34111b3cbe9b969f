import { describe, expect, it } from 'vitest';
import { callsOf, type CallRule } from '../../src/screening/index.ts';

/** Pseudo-random numbers in [0, 1) from a linear congruential generator. */
function numbers(seed: number, count: number): number[] {
  let state = seed;
  return Array.from({ length: count }, () => {
    state = (state * 1_664_525 + 1_013_904_223) % 2 ** 32;
    return state / 2 ** 32;
  });
}

const room = (patients: number, ties: 'leave' | 'call' = 'leave'): CallRule => ({
  by: 'capacity',
  patients,
  ties,
});

describe('calls by capacity', () => {
  it('are the patients most at risk of the list, exactly as many where no risk is shared', () => {
    for (const seed of [1, 2, 3]) {
      const scores = numbers(seed, 640);
      const highest = [...scores].sort((a, b) => b - a);
      for (const patients of [1, 128, 639, 640]) {
        const { cutoff, called, tied } = callsOf(room(patients), 0.5, scores, 'event');
        expect(called).toBe(patients);
        expect(tied).toBeUndefined();
        expect(scores.filter((score) => score >= cutoff).sort((a, b) => b - a)).toEqual(
          highest.slice(0, patients),
        );
      }
    }
  });

  it('never part patients with one risk, and never exceed the room unless told to', () => {
    for (const seed of [4, 5, 6]) {
      const scores = numbers(seed, 200).map((score) => Math.round(score * 12) / 12);
      for (let patients = 0; patients <= 200; patients += 7)
        for (const ties of ['leave', 'call'] as const) {
          const { cutoff, called, tied } = callsOf(room(patients, ties), 0.5, scores, 'event');
          expect(scores.filter((score) => score >= cutoff)).toHaveLength(called);
          if (!tied) expect(called).toBe(patients);
          else {
            expect(tied.left).toBeLessThan(patients);
            expect(tied.called).toBeGreaterThan(patients);
            expect(tied.called - tied.left).toBe(tied.patients);
            expect(called).toBe(ties === 'leave' ? tied.left : tied.called);
          }
        }
    }
  });

  it('call in nobody where all share one risk and there is no room for all', () => {
    const same = new Array<number>(50).fill(0.3);
    expect(callsOf(room(20), 0.1, same, 'event')).toMatchObject({ called: 0 });
    expect(callsOf(room(20, 'call'), 0.1, same, 'event')).toMatchObject({ called: 50 });
    expect(callsOf(room(50), 0.1, same, 'event')).toEqual({ cutoff: 0.3, called: 50 });
  });

  it('pass over who has no risk, whatever the order of the list', () => {
    const scores = [NaN, 0.9, 0.1, NaN, 0.2, NaN];
    expect(callsOf(room(2), 0.5, scores, 'event')).toEqual({ cutoff: 0.2, called: 2 });
    expect(callsOf(room(5), 0.5, scores, 'event')).toEqual({ cutoff: 0.1, called: 3 });
    expect(callsOf({ by: 'candidate' }, 0.5, scores, 'event')).toEqual({ cutoff: 0.5, called: 1 });
    expect(callsOf(room(0), 0.5, scores, 'event').called).toBe(0);
    expect(callsOf(room(3), 0.5, [], 'event').called).toBe(0);
  });

  it('hold for numbers of any size, in which nobody is beyond the largest', () => {
    const scores = [1e6, -5e6, 3e6, 3e6];
    expect(callsOf(room(1), 0, scores, 'number')).toMatchObject({ called: 0 });
    expect(callsOf(room(2), 0, scores, 'number')).toEqual({ cutoff: 3e6, called: 2 });
    expect(callsOf({ by: 'cutoff', cutoff: -4e6 }, 0, scores, 'number').called).toBe(3);
  });
});
