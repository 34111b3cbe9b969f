import type { Answer, Client } from './client.ts';

/** Does something while it asks for something else all the time: the longest that took, in ms. */
export async function askedBeside<T>(client: Client, work: () => Promise<Answer<T>>) {
  let longest = 0;
  let over = false;
  const others = (async () => {
    while (!over) {
      const begun = performance.now();
      await client.send('GET', '/api/deleted');
      longest = Math.max(longest, performance.now() - begun);
      await new Promise((resolve) => setTimeout(resolve, 5));
    }
  })();
  const answer = await work();
  over = true;
  await others;
  return { ...answer, longest };
}
