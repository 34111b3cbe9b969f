import * as z from 'zod';
import { route } from './route.ts';

/** Something deleted within the last day, which can still be brought back. */
export interface Deleted {
  what: 'study' | 'cohort' | 'candidate' | 'search';
  id: string;
  name: string;
  study: string;
  studyId: string;
  at: string;
}

/** What is sent to erase something: its name, typed by whoever wants it gone. */
export const erasure = z.object({ name: z.string().max(400) });

export const deletedRoutes = { list: route<Deleted[]>()('GET', '/api/deleted') };
