import { describe, expect, it } from 'vitest';
import { alikeRoom, pullRoom, randomStream } from '../../src/numeric/index.ts';

const draw = randomStream(12, 'margins');
const normals = (count: number) => Float64Array.from({ length: count }, () => draw.normal());

describe('how alike a point is to patients', () => {
  it.each([
    { patients: 1, inputs: 1 },
    { patients: 16, inputs: 3 },
    { patients: 53, inputs: 7 },
    { patients: 130, inputs: 20 },
  ])(
    '$patients patients x $inputs: products and narrow likeness as sums say',
    ({ patients, inputs }) => {
      const rows = normals(patients * inputs);
      const at = (row: number) => rows.subarray(row * inputs, (row + 1) * inputs);
      for (let k = 0; k < 5; k++) {
        const point = normals(inputs);
        const product = (row: number) => point.reduce((sum, one, j) => sum + one * at(row)[j], 0);
        const distance = (row: number) =>
          point.reduce((sum, one, j) => sum + (one - at(row)[j]) ** 2, 0);
        const products = alikeRoom(rows, inputs).to(point);
        expect(products.length).toBe(patients);
        products.forEach((one, row) => expect(one).toBeCloseTo(product(row), 12));
        const narrow = alikeRoom(rows, inputs, 0.3).to(point);
        narrow.forEach((one, row) => expect(one).toBeCloseTo(Math.exp(-0.3 * distance(row)), 12));
      }
    },
  );

  it('is 1 of a patient to itself, however far from the middle it stands', () => {
    const rows = normals(40).map((one) => 1000 * one);
    const { to } = alikeRoom(rows, 4, 2);
    for (let row = 0; row < 10; row++)
      expect(to(rows.subarray(4 * row, 4 * row + 4))[row]).toBeCloseTo(1, 6);
  });

  it('is nothing to nobody', () => {
    expect(alikeRoom(new Float64Array(0), 3).to(Float64Array.of(1, 2, 3)).length).toBe(0);
    expect(alikeRoom(new Float64Array(0), 0).to(new Float64Array(0)).length).toBe(0);
  });
});

describe('the walks by which a margin is widened', () => {
  /** Some may rise, some fall, some both and some neither. */
  function filled(count: number) {
    const room = pullRoom(count);
    room.pulls.set(normals(count));
    room.own.set(normals(count).map((one) => Math.abs(one) / 4));
    room.other.set(normals(count));
    room.selves.fill(1);
    for (let t = 0; t < count; t++) {
      room.rises[t] = draw.uniform() < 0.6 ? 0 : -Infinity;
      room.falls[t] = draw.uniform() < 0.6 ? 0 : Infinity;
    }
    return room;
  }

  it.each([1, 2, 7, 64, 501])('of %i variables find what a walk one by one finds', (count) => {
    for (let k = 0; k < 20; k++) {
      const room = filled(count);
      const way = draw.normal();
      const pulls = room.pulls.map((one, t) => one - way * (room.own[t] - room.other[t]));
      const found = room.farthest(way);
      room.pulls.forEach((one, t) => expect(one).toBe(pulls[t]));
      const rising = [...pulls.keys()].filter((t) => room.rises[t] === 0);
      const falling = [...pulls.keys()].filter((t) => room.falls[t] === 0);
      const above = Math.max(-Infinity, ...rising.map((t) => pulls[t]));
      expect(found.above).toBe(above);
      expect(found.below).toBe(Math.min(Infinity, ...falling.map((t) => pulls[t])));
      expect(found.place).toBe(rising.length === 0 ? -1 : pulls.indexOf(above));
      const gains = Array.from(pulls, (pull, t) => {
        const apart = above - pull;
        if (room.falls[t] !== 0 || !(apart > 0) || apart === Infinity) return 0;
        return (apart * apart) / Math.max(1e-12, 1 + 1 - 2 * room.own[t]);
      });
      const most = Math.max(...gains);
      if (rising.length > 0)
        expect(room.partner(found.above, 1, 1e-12)).toBe(most > 0 ? gains.indexOf(most) : -1);
    }
  });

  it('take the one that stands before where two are the same', () => {
    const room = pullRoom(6);
    room.pulls.set([1, 3, 3, -2, -2, 3]);
    room.rises.fill(0);
    room.falls.fill(0);
    room.selves.fill(1);
    expect(room.farthest(0)).toEqual({ above: 3, below: -2, place: 1 });
    expect(room.partner(3, 1, 1e-12)).toBe(3);
  });
});
