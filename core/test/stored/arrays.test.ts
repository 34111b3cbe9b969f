import { describe, expect, it } from 'vitest';
import { packArrays, unpackArrays } from '../../src/stored/index.ts';

const arrays = {
  thresholds: Float64Array.of(0.1, -0, NaN, Infinity, 5e-324),
  gains: Float32Array.of(0.1, 3),
  flags: Uint8Array.of(1, 0, 255),
  children: Int32Array.of(-1, 2_147_483_647),
  nothing: new Float64Array(),
};

describe('arrays kept as bytes', () => {
  const { layout, bytes } = packArrays(arrays);

  it('come back bit for bit, by name and of the same kind', () => {
    const again = unpackArrays(layout, bytes);
    expect(again).toEqual(arrays);
    expect(Object.is(again.thresholds[1], -0)).toBe(true);
    expect(Object.keys(again)).toEqual(Object.keys(arrays));
  });

  it('come back wherever the bytes begin, as a database gives them', () => {
    const within = new Uint8Array(bytes.length + 3);
    within.set(bytes, 3);
    expect(unpackArrays(layout, within.subarray(3))).toEqual(arrays);
    // A driver gives bytes whose slices are views of the same memory.
    class Shared extends Uint8Array {
      override slice(from?: number, to?: number) {
        return this.subarray(from, to) as never;
      }
    }
    const driven = new Shared(within.buffer).subarray(3) as Uint8Array;
    expect(unpackArrays(layout, driven)).toEqual(arrays);
  });

  it('take no more room than their numbers', () => {
    expect(bytes.length).toBe(5 * 8 + 2 * 4 + 3 + 2 * 4);
    expect(JSON.parse(JSON.stringify(layout))).toEqual(layout);
  });

  it.each([-1, 1])('are refused where %i bytes are too many', (more) => {
    const other = new Uint8Array(bytes.length + more);
    expect(() => unpackArrays(layout, other)).toThrow(/cut short/);
  });
});
