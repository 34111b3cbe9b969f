export { closeDatabase, connectionPool, databaseUrl, db, type Database } from './client.ts';
export { copyRows } from './copy-rows.ts';
export { isConnectionError } from './connection-error.ts';
export { migrateDatabase } from './migrate.ts';
export * as tables from './schema.ts';
