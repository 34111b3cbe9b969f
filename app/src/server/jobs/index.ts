export {
  announce,
  beforeAnnounced,
  callOff,
  calledOffChannel,
  changedChannel,
  restoredChannel,
  wantedChannel,
} from './announce.ts';
export { endWhenRestored, listen } from './listen.ts';
export {
  cellsOfFit,
  createQueues,
  fitNext,
  fitsInOrder,
  queue,
  requestFit,
  requestListFile,
  requestReasons,
  requestSearch,
  requestSurvey,
  stopQueue,
  type JobData,
} from './queue.ts';
