import { randomStream } from '@rook-scale/core/numeric';

/** What a sample of a long test is drawn by: another one each day, the same all day long. SEED repeats another day's. */
export const seedOfTheDay = Number(
  process.env.SEED ?? new Date().toISOString().slice(0, 10).replaceAll('-', ''),
);

/** All of the long tests, or a sample of each. */
export const isLong = process.env.LONG === 'yes';

/** Some of the items, in their order, drawn by the seed of the day; all of them in a long run. */
export function sampleOfTheDay<Item>(items: Item[], count: number, what: string): Item[] {
  if (isLong || items.length <= count) return items;
  const draw = randomStream(seedOfTheDay, what);
  const places = items.map((_, i) => ({ i, by: draw.uniform() }));
  const drawn = places.sort((a, b) => a.by - b.by).slice(0, count);
  return drawn.sort((a, b) => a.i - b.i).map(({ i }) => items[i]);
}
