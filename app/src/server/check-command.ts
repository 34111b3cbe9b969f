import { checkDatabase } from './check-database.ts';
import { closeDatabase } from './ground/database/index.ts';

// Run by hand: says what in the database does not belong together, and fails if anything does not.
const found = await checkDatabase();
for (const { what, study } of found) console.log(`${study ? `Study ${study}: ` : ''}${what}`);
console.log(
  found.length === 0 ? 'Everything belongs together.' : `${found.length} inconsistencies.`,
);
await closeDatabase();
process.exit(found.length === 0 ? 0 : 1);
