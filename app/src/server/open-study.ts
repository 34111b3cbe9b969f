import * as z from 'zod';
import type { Overview } from '../contract/studies.ts';
import { Problem } from './ground/problem.ts';
import { overviewOf } from './studies.ts';

/** The study named in an address; undefined when there is none. */
export async function openStudy(id: string | undefined): Promise<Overview | undefined> {
  if (!z.uuid().safeParse(id).success) return undefined;
  try {
    return await overviewOf(id!);
  } catch (error) {
    if (error instanceof Problem && error.status === 404) return undefined;
    throw error;
  }
}
