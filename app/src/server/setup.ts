import { closeDatabase, databaseUrl, inTurn, migrateDatabase } from './ground/database/index.ts';
import { loadDemoStudies } from './demo-study.ts';
import { createQueues, stopQueue } from './jobs/index.ts';
import { clearAway } from './deletion.ts';
import { mendStudies } from './mend-studies.ts';
import { keepVersionsOfLists } from './screenings/index.ts';

// Run once before web server and worker: schema, queues, demo study, mending, spring cleaning.
await migrateDatabase(databaseUrl());
// One machine at a time: two that made the same queue at once would lock each other out.
await inTurn('setup', async () => {
  await createQueues();
  if (process.env.ROOK_DEMO !== 'no') await loadDemoStudies();
  await mendStudies((line) => console.log(line));
  await keepVersionsOfLists();
  await clearAway();
});
await stopQueue();
await closeDatabase();
process.exit(0);
