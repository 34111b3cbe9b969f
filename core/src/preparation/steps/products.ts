import * as z from 'zod';
import { isNumber, type NumberWorking } from '../working.ts';
import { freeName } from './chosen-columns.ts';
import type { Step } from './step.ts';

const choice = z.object({
  /** Two columns each; the same twice is its square. */
  pairs: z.array(z.tuple([z.string(), z.string()])).max(500),
});
type Choice = z.infer<typeof choice>;

const learned = z.array(
  z.object({
    name: z.string(),
    pair: z.tuple([z.string(), z.string()]),
    /** Means that are taken off first, so that a product says little of what its parts say alone. */
    centres: z.tuple([z.number(), z.number()]),
  }),
);
type Learned = z.infer<typeof learned>;

/** Products of two numbers, each less its mean, and squares. */
export const products: Step<Learned, Choice> = {
  name: 'Products',
  about: 'Products of two numbers and squares, each number less its mean.',
  choice,
  learned,
  learn(columns, _, { pairs }) {
    const numbers = new Map(columns.filter(isNumber).map((column) => [column.source, column]));
    return pairs.flatMap(([a, b]) => {
      const [first, second] = [numbers.get(a), numbers.get(b)];
      if (!first || !second) return [];
      const name = freeName(a === b ? `${a} squared` : `${a} × ${b}`, columns);
      return [{ name, pair: [a, b], centres: [meanOf(first), meanOf(second)] }] as Learned;
    });
  },
  apply(fitted, columns) {
    const numbers = new Map(columns.filter(isNumber).map((column) => [column.source, column]));
    const made = fitted.flatMap(({ name, pair, centres }): NumberWorking[] => {
      const [first, second] = pair.map((one) => numbers.get(one));
      if (!first || !second) return [];
      const values = new Float64Array(first.values.length);
      for (let i = 0; i < values.length; i++)
        values[i] = (first.values[i] - centres[0]) * (second.values[i] - centres[1]);
      const of = [...new Set([...(first.of ?? [first.source]), ...(second.of ?? [second.source])])];
      return [{ source: name, part: 'value', of, type: 'number', values }];
    });
    return [...columns, ...made];
  },
  effects: (fitted) =>
    fitted.map(({ name, pair }) => ({
      what: 'made',
      column: name,
      of: [...new Set(pair)],
      how: 'product',
    })),
};

function meanOf({ values }: NumberWorking): number {
  let [sum, n] = [0, 0];
  for (const value of values)
    if (!Number.isNaN(value)) {
      sum += value;
      n++;
    }
  return n > 0 ? sum / n : 0;
}
