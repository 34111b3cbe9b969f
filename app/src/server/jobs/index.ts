export {
  announce,
  beforeAnnounced,
  callOutCancel,
  cancelChannel,
  changedChannel,
  wantedChannel,
} from './announce.ts';
export { listen } from './listen.ts';
export {
  fitQueue,
  queue,
  requestFit,
  requestSurvey,
  stopQueue,
  surveyQueue,
  type FitJob,
  type SurveyJob,
} from './queue.ts';
