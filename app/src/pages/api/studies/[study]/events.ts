import { endpoint, readId } from '../../../../server/endpoint.ts';
import { studyEvents } from '../../../../server/events.ts';

/** Server-sent events: "changed" whenever something of the study has changed. */
export const GET = endpoint((context) =>
  Promise.resolve(
    new Response(studyEvents(readId(context, 'study'), context.request.signal), {
      headers: {
        'Content-Type': 'text/event-stream',
        'Cache-Control': 'no-store',
        'X-Accel-Buffering': 'no',
      },
    }),
  ),
);
