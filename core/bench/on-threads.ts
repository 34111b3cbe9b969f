import { Worker } from 'node:worker_threads';
import type { Measured } from './measure.ts';

const threads = 2;

/**
 * The same case on two threads at once, as the folds of a fit are: how long each takes of the machine,
 * which is the time of both divided by two.
 */
export async function measureOnThreads(name: string): Promise<Measured> {
  const workers = Array.from(
    { length: threads },
    () => new Worker(new URL('./thread.mjs', import.meta.url), { workerData: name }),
  );
  const all = () => Promise.all(workers.map(answer));
  await all();
  const times: number[] = [];
  for (let i = 0; i < 6; i++) {
    const begun = performance.now();
    const done = all();
    for (const worker of workers) worker.postMessage('once');
    await done;
    times.push((performance.now() - begun) / threads);
  }
  await Promise.all(workers.map((worker) => worker.terminate()));
  // The first one warms up.
  const [least, , median, , greatest] = times.slice(1).sort((a, b) => a - b);
  return { name: `${name}, each of two threads at once`, median, least, greatest };
}

const answer = (worker: Worker) =>
  new Promise((resolve, reject) => {
    worker.once('message', resolve).once('error', reject);
  });
