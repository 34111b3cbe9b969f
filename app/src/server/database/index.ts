export { closeDatabase, connectionPool, databaseUrl, db, type Database } from './client.ts';
export { migrateDatabase } from './migrate.ts';
export * as tables from './schema.ts';
