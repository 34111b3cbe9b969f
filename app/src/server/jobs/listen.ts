import pg from 'pg';
import { restoredChannel } from './announce.ts';
import { databaseUrl } from '../ground/database/index.ts';

/**
 * Calls `heard` for every notification on a channel, for as long as the process lives. A lost
 * connection is opened again. Whenever it is there, `heard('')` says that something may have been
 * missed until then.
 */
export function listen(channel: string, heard: (payload: string) => void): void {
  const connect = async () => {
    const client = new pg.Client({ connectionString: databaseUrl(), keepAlive: true });
    const again = () => setTimeout(() => void connect(), 1000).unref();
    client.once('error', () => {
      client.end().catch(() => undefined);
      again();
    });
    try {
      await client.connect();
      client.on('notification', (message) => heard(message.payload ?? ''));
      await client.query(`listen ${pg.escapeIdentifier(channel)}`);
      // What was said before this moment was heard by nobody.
      heard('');
    } catch {
      client.removeAllListeners('error');
      client.on('error', () => undefined);
      again();
    }
  };
  void connect();
}

/** Ends the process when the database is restored from a backup: what it remembers is of before. It is started again. */
export function endWhenRestored(): void {
  listen(restoredChannel, (payload) => {
    if (payload !== '') process.exit(0);
  });
}
