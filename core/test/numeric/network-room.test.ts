import { describe, expect, it } from 'vitest';
import {
  networkRoom,
  parametersOf,
  randomStream,
  type NetworkTask,
} from '../../src/numeric/index.ts';

const draw = randomStream(14, 'network room');
const sizes = [3, 4, 1];
const patients = 70;
const task: NetworkTask = {
  rows: Float64Array.from({ length: 3 * patients }, () => draw.normal()),
  outcome: Float64Array.from({ length: patients }, () => Number(draw.uniform() < 0.4)),
  weights: Float64Array.from({ length: patients }, () => 0.5 + draw.uniform()),
  kind: 'event',
  sizes,
};
const begin = Float64Array.from({ length: parametersOf(sizes) }, () => 0.5 * draw.normal());

describe('a pass over patients', () => {
  it('takes a step of Adam after each 32, with decay, as written down by its authors', () => {
    // Kingma & Ba 2015, algorithm 1, with slopes that another test holds against differences.
    const decays = begin.map((_, k) => (k % 4 === 0 ? 0 : 0.05));
    const order = Int32Array.from({ length: patients }, (_, i) => (i * 27) % patients);
    const [rate, last] = [0.02, 0.01];
    const byHand = networkRoom(task);
    byHand.parameters.set(begin);
    const first = new Float64Array(begin.length);
    const second = new Float64Array(begin.length);
    let step = 0;
    for (let passes = 0; passes < 2; passes++)
      for (let from = 0; from < patients; from += 32) {
        step++;
        const gradient = byHand.gradient(order.subarray(from, from + 32));
        const length = rate + (last - rate) * (from / patients);
        gradient.forEach((slope, k) => {
          const g = slope + decays[k] * byHand.parameters[k];
          first[k] = 0.9 * first[k] + 0.1 * g;
          second[k] = 0.999 * second[k] + 0.001 * g * g;
          const [m, v] = [first[k] / (1 - 0.9 ** step), second[k] / (1 - 0.999 ** step)];
          byHand.parameters[k] -= (length * m) / (Math.sqrt(v) + 1e-8);
        });
      }
    const room = networkRoom(task);
    room.parameters.set(begin);
    room.decays.set(decays);
    room.begin();
    room.pass(order, rate, last);
    room.pass(order, rate, last);
    room.parameters.forEach((one, k) => expect(one).toBeCloseTo(byHand.parameters[k], 11));
    expect(Math.abs(room.parameters[3] - begin[3])).toBeGreaterThan(0.01);
  });

  it('begun anew is the same to the last bit', () => {
    const order = Int32Array.from({ length: patients }, (_, i) => i);
    const room = networkRoom(task);
    const once = () => {
      room.parameters.set(begin);
      room.begin();
      for (let k = 0; k < 3; k++) room.pass(order, 0.05, 0.02);
      return room.parameters.slice();
    };
    expect(once()).toEqual(once());
  });

  it('tells the slopes of 32 at most', () => {
    const room = networkRoom(task);
    expect(() => room.gradient(new Int32Array(33))).toThrow('At most 32 patients.');
  });
});
