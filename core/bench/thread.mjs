// One of the threads that `on-threads.ts` measures: says when it is ready, and does the case when asked.
import { parentPort, workerData } from 'node:worker_threads';
import { register } from 'tsx/esm/api';

register();
const { cases } = await import('./cases.ts');
const run = cases.find(({ name }) => name === workerData).prepare();
parentPort.on('message', () => {
  run();
  parentPort.postMessage('done');
});
parentPort.postMessage('ready');
