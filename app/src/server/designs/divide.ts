import { pathToFileURL } from 'node:url';
import { Worker } from 'node:worker_threads';
import { DesignError, divide, type Design, type Division } from '@rook-scale/core/design';
import type { Table } from '@rook-scale/core/table';
import type { CohortInfo } from '../cohorts/index.ts';

/** Patients above which the web server has a thread do it, and goes on answering meanwhile. */
const manyPatients = 20_000;

export type Divided = Pick<Division, 'sides' | 'folds' | 'counts'>;

/** What a thread that divides is given, and what it answers. */
export interface DivideTask {
  table: Table;
  design: Design;
}
export type DivideAnswer = { divided: Divided } | { obstacle: string } | { error: unknown };

/**
 * Carries out split and folds. Throws a DesignError when a side lacks a level.
 *
 * @param read gives the patients of the named columns, or of all
 */
export async function divideCohort(
  cohort: CohortInfo,
  design: Design,
  read: (names?: string[]) => Promise<Table>,
): Promise<Divided> {
  const identifier = cohort.dictionary.find((entry) => entry.role === 'identifier');
  const names = identifier ? [identifier.name, design.outcome] : undefined;
  const task = { table: await read(names), design };
  if (cohort.rowCount <= manyPatients) return divideTable(task);
  const answer = await onThread(task);
  if ('divided' in answer) return answer.divided;
  if ('obstacle' in answer) throw new DesignError(answer.obstacle);
  throw answer.error;
}

function divideTable({ table, design }: DivideTask): Divided {
  const { sides, folds, counts } = divide(table, design);
  return { sides, folds, counts };
}

function onThread(task: DivideTask): Promise<DivideAnswer> {
  // Beside the folder of whichever program runs: web server and setup are built side by side.
  const script = new URL('../worker/divide.js', pathToFileURL(process.argv[1]));
  // Columns are in shared memory; only texts are copied.
  const thread = new Worker(script, { workerData: task });
  return new Promise((resolve, reject) => {
    thread.once('message', resolve);
    thread.once('error', reject);
    thread.once('exit', () => reject(new Error('The thread that divides ended.')));
  });
}
