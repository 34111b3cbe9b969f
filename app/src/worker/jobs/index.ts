import { fitJobs } from './fit/index.ts';
import type { JobKind } from './job-kind.ts';
import { surveyJobs } from './survey/index.ts';

/** Every kind of long work. */
export const jobKinds: JobKind[] = [fitJobs, surveyJobs] as JobKind[];

export { runJobs, type RunningJobs } from './run-jobs.ts';
