import { expect, it } from 'vitest';
import { killAtRandom } from '../support/kills.ts';

it('killing web server, worker or database at any moment leaves nothing half done', async () => {
  const { inconsistent, stuck, kills, longestAway } = await killAtRandom(7, 12);
  expect({ kills, inconsistent, stuck }).toEqual({ kills: 12, inconsistent: [], stuck: [] });
  expect(longestAway).toBeLessThan(30_000);
}, 400_000);
