// What the commands around the database share: which database, and PostgreSQL's own programs.
import { existsSync } from 'node:fs';
import { join } from 'node:path';

/** The database that the product is on: the one named by DATABASE_URL, or the private one. */
export async function databaseAtHand() {
  const given = process.env.DATABASE_URL;
  if (given) return { url: given, ...apart(given), stop() {} };
  const { startOwnDatabase } = await import('./database.mjs');
  const database = await startOwnDatabase('postgres', { watch: false });
  return { url: database.url, ...apart(database.url), stop: database.stop };
}

/** A program of PostgreSQL, beside the server or on the path. */
export function postgresProgram(name) {
  const folders = [
    ...[19, 18, 17, 16, 15, 14, 13].map((version) => `/usr/lib/postgresql/${version}/bin`),
    ...(process.env.PATH ?? '').split(':'),
  ];
  const found = folders.map((folder) => join(folder, name)).find((path) => existsSync(path));
  if (!found)
    throw new Error(`PostgreSQL's program ${name} was not found. Start the product once.`);
  return found;
}

/** A password in an argument could be read by everyone on the machine: it goes by the environment. */
export const withPassword = ({ password }) => ({ ...process.env, PGPASSWORD: password });

function apart(url) {
  const plain = new URL(url);
  const password = decodeURIComponent(plain.password);
  plain.password = '';
  return { plainUrl: plain.href, password };
}
