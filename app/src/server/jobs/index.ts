export {
  announce,
  beforeAnnounced,
  callOutCancel,
  cancelChannel,
  changedChannel,
  restoredChannel,
  wantedChannel,
} from './announce.ts';
export { endWhenRestored, listen } from './listen.ts';
export {
  createQueues,
  fitQueue,
  queue,
  requestFit,
  requestSurvey,
  stopQueue,
  surveyQueue,
  type FitJob,
  type SurveyJob,
} from './queue.ts';
