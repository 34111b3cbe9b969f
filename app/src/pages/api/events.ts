import { endpoint, streamOfEvents, studyEvents } from '../../server/door/index.ts';

/** Server-sent events: "changed" with the id of whichever study has changed, for all tabs of a browser. */
export const GET = endpoint(({ request }) =>
  Promise.resolve(streamOfEvents(studyEvents(undefined, request.signal))),
);
