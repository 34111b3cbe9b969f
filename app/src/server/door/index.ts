export { answer } from './answer.ts';
export { dictionaryLimit, readQuery } from './body.ts';
export { endpoint, readId } from './endpoint.ts';
export { streamOfEvents, studyEvents } from './events.ts';
