import { fitJobs, shortFitJobs } from './fit/index.ts';
import type { JobKind } from './job-kind.ts';
import { listFileJobs } from './list-file/index.ts';
import { reasonJobs } from './reasons/index.ts';
import { searchJobs } from './search/index.ts';
import { surveyJobs } from './survey/index.ts';

/** Every kind of long work. */
export const jobKinds: JobKind[] = [
  fitJobs,
  shortFitJobs,
  searchJobs,
  reasonJobs,
  listFileJobs,
  surveyJobs,
] as JobKind[];

export { runJobs, type RunningJobs } from './run-jobs.ts';
