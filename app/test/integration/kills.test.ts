import { expect, it } from 'vitest';
import { isLong, seedOfTheDay } from '../support/day.ts';
import { killAtRandom } from '../support/kills.ts';
import { pace } from '../support/pace.ts';

const kills = isLong ? 300 : 5;

it(
  'killing web server, worker or database at any moment leaves nothing half done',
  async () => {
    const { longestAway, ...found } = await killAtRandom(seedOfTheDay, kills);
    expect(found).toEqual({ kills, inconsistent: [], stuck: [] });
    expect(longestAway).toBeLessThan(30_000 * pace);
  },
  120_000 * kills * pace,
);
