import pg from 'pg';
import { databaseUrl } from '../database/index.ts';

/**
 * Calls `heard` for every notification on a channel, for as long as the process lives. A lost
 * connection is opened again; `heard('')` then says that something may have been missed.
 */
export function listen(channel: string, heard: (payload: string) => void): void {
  let first = true;
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
      if (!first) heard('');
      first = false;
    } catch {
      client.removeAllListeners('error');
      client.on('error', () => undefined);
      again();
    }
  };
  void connect();
}
