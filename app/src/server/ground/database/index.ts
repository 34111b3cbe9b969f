export {
  afterwards,
  atOnce,
  changeAtHand,
  closeDatabase,
  connectionPool,
  databaseUrl,
  db,
  type Database,
} from './client.ts';
export { copyRows } from './copy-rows.ts';
export { databaseCode, isConnectionError, passesByItself } from './passing-errors.ts';
export { migrateDatabase } from './migrate.ts';
export { inTurn } from './turns.ts';
export * as tables from './schema.ts';
