import { passesByItself } from '../../../server/ground/database/index.ts';
import { logError } from '../../../server/ground/log.ts';
import { Problem } from '../../../server/ground/problem.ts';
import { surveyWork } from '../../../server/surveys/index.ts';
import type { JobKind } from '../job-kind.ts';
import { thinned } from './shares.ts';

/** Parts of a survey. Two side by side: what a page waits for should not stand behind a long one. */
export const surveyJobs: JobKind<'survey'> = {
  kind: 'survey',
  sideBySide: 2,
  async take({ studyId, request }, threads) {
    const work = await surveyWork(studyId, request, (columns, rows) =>
      threads.measure(columns, rows),
    );
    if (!work) return undefined;
    return {
      id: `survey of ${studyId} ${JSON.stringify(request)}`,
      cells: work.cells,
      again: passes,
      async carryOut() {
        try {
          const task = await work.makeTask();
          const quick = thinned(task);
          if (quick)
            await work.keep({ result: await threads.survey(quick), sampled: quick.rows.length });
          await work.keep({ result: await threads.survey(task) });
        } catch (error) {
          if (passes(error)) throw error;
          // Kept as the answer: the page says it instead of waiting.
          logError('survey', error);
          const problem = error instanceof Error ? error.message : 'The survey failed.';
          await work.keep({ problem });
        }
      },
    };
  },
};

/** What is over by itself a little later. */
const passes = (error: unknown): boolean =>
  passesByItself(error) || (error instanceof Problem && error.code === 'read-meanwhile');
