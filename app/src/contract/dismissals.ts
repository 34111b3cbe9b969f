import * as z from 'zod';
import { route } from './route.ts';

/** A margin note that was dismissed, and why. */
export interface Dismissal {
  note: string;
  title: string;
  reason: string;
  at: string;
}

const dismissed = z.object({
  note: z.string().min(1).max(500),
  title: z.string().max(300),
  reason: z.string().trim().min(1, 'Say why: the reason is kept with the study.').max(500),
});
const path = '/api/studies/[study]/dismissals';

export const dismissalRoutes = {
  list: route<Dismissal[]>()('GET', path),
  dismiss: route()('POST', path, { body: dismissed }),
  bringBack: route()('DELETE', path, { body: dismissed.pick({ note: true }) }),
};
