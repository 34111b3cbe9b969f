export { announce, callOutCancel, cancelChannel, changedChannel } from './announce.ts';
export { listen } from './listen.ts';
export { fitQueue, queue, requestFit, stopQueue, type FitJob } from './queue.ts';
