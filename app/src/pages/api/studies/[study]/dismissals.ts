import { dismissalRoutes } from '../../../../contract/dismissals.ts';
import { bringNoteBack, dismissNote, listDismissals } from '../../../../server/dismissals.ts';
import { answer } from '../../../../server/door/index.ts';

export const GET = answer(dismissalRoutes.list, ({ ids }) => listDismissals(ids.study));

export const POST = answer(dismissalRoutes.dismiss, ({ ids, body: { note, title, reason } }) =>
  dismissNote(ids.study, note, title, reason),
);

export const DELETE = answer(dismissalRoutes.bringBack, ({ ids, body }) =>
  bringNoteBack(ids.study, body.note),
);
