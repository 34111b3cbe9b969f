import type { Permuted } from '@rook-scale/core/reasons';
import { passesByItself } from '../../../server/ground/database/index.ts';
import { cellsOfFit, requestReasons } from '../../../server/jobs/index.ts';
import { forsakenWorths, worthWork } from '../../../server/reasons/index.ts';
import type { JobKind } from '../job-kind.ts';
import { sentenceOf } from '../sentence.ts';

const unexpected = 'It stopped on an error that we did not foresee. Ask again.';

/** What predictors are worth: one candidate at a time, its folds on all threads. */
export const reasonJobs: JobKind<'reasons'> = {
  kind: 'reasons',
  sideBySide: 1,
  async take({ candidateId }, threads) {
    const work = await worthWork(candidateId);
    if (!work) return undefined;
    return {
      id: `reasons of ${candidateId}`,
      cells: await cellsOfFit(candidateId),
      alive: () => work.alive(),
      giveBack: () => work.giveBack(),
      async carryOut(signal) {
        try {
          const made = await work.makeTasks();
          const { tasks } = made;
          await work.keep({ total: tasks.length, done: 0 });
          const said = new Array<Permuted>(tasks.length);
          await threads.inLanes(
            'permute',
            tasks,
            async (result, place) => {
              said[place] = result;
              await work.oneDone();
            },
            signal,
          );
          await made.finish(said);
        } catch (error) {
          // Without a sign of life another worker takes it up.
          if (signal.aborted) return;
          if (passesByItself(error)) throw error;
          await work.keep({ problem: sentenceOf(error, 'reasons', unexpected) });
        }
      },
    };
  },
  async takeUp(mine) {
    for (const id of await forsakenWorths())
      if (!mine(`reasons of ${id}`)) await requestReasons(id);
  },
};
