import { parentPort } from 'node:worker_threads';
import { passOn } from './pass-on.ts';
import type { Answer, Wanted, Works } from './pool.ts';

/**
 * What the program of a thread of a `Pool` does: answers tasks of every kind, one after the other.
 * A work may `tell` how it goes while it is at it.
 */
export function serve<Kinds extends Works<Kinds>>(works: {
  [Kind in keyof Kinds]: (
    task: Kinds[Kind]['task'],
    tell: (news: Kinds[Kind]['news']) => void,
  ) => Kinds[Kind]['result'];
}): void {
  parentPort?.on('message', ({ kind, task }: Wanted<Kinds>) => {
    let answer: Answer;
    try {
      const tell = (news: unknown) => parentPort?.postMessage({ news } satisfies Answer);
      answer = { result: works[kind](task, tell) };
    } catch (error) {
      answer = { error: passOn(error) };
    }
    parentPort?.postMessage(answer);
  });
}
