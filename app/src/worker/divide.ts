// A thread of the web server that divides one large cohort and ends, giving its memory back.
import { parentPort, workerData } from 'node:worker_threads';
import { closeDatabase } from '../server/database/index.ts';
import { answerDivide, type DivideTask } from '../server/divide-cohort.ts';

parentPort?.postMessage(await answerDivide(workerData as DivideTask));
await closeDatabase();
