import * as z from 'zod';
import { Problem } from './problem.ts';
import { markOpened, overviewOf, type Overview } from './studies.ts';

/** The study named in an address, marked as opened; undefined when there is none. */
export async function openStudy(id: string | undefined): Promise<Overview | undefined> {
  if (!z.uuid().safeParse(id).success) return undefined;
  try {
    const overview = await overviewOf(id!);
    await markOpened(id!);
    return overview;
  } catch (error) {
    if (error instanceof Problem && error.status === 404) return undefined;
    throw error;
  }
}
