import { closeDatabase, databaseUrl, migrateDatabase } from './database/index.ts';
import { loadDemoStudy } from './demo-study.ts';
import { stopQueue } from './jobs/index.ts';
import { clearAway } from './deletion.ts';

// Run once before web server and worker: schema, demo study, spring cleaning.
await migrateDatabase(databaseUrl());
if (process.env.ROOK_DEMO !== 'no') await loadDemoStudy();
await clearAway();
await stopQueue();
await closeDatabase();
process.exit(0);
