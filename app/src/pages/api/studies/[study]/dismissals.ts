import * as z from 'zod';
import { bringNoteBack, dismissNote, listDismissals } from '../../../../server/dismissals.ts';
import { endpoint, readBody, readId } from '../../../../server/door/index.ts';

const dismissed = z.object({
  note: z.string().min(1).max(500),
  title: z.string().max(300),
  reason: z.string().trim().min(1, 'Say why: the reason is kept with the study.').max(500),
});

export const GET = endpoint((context) => listDismissals(readId(context, 'study')));

export const POST = endpoint(async (context) => {
  const { note, title, reason } = await readBody(context.request, dismissed);
  await dismissNote(readId(context, 'study'), note, title, reason);
});

export const DELETE = endpoint(async (context) => {
  const { note } = await readBody(context.request, dismissed.pick({ note: true }));
  await bringNoteBack(readId(context, 'study'), note);
});
