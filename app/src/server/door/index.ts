export { dictionaryLimit, readBody, readQuery } from './body.ts';
export { endpoint, readId } from './endpoint.ts';
export { streamOfEvents, studyEvents } from './events.ts';
