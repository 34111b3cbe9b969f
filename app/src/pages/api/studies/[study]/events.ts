import { endpoint, readId, streamOfEvents, studyEvents } from '../../../../server/door/index.ts';

/** Server-sent events: "changed" whenever something of the study has changed. */
export const GET = endpoint((context) =>
  Promise.resolve(streamOfEvents(studyEvents(readId(context, 'study'), context.request.signal))),
);
