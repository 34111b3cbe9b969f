import pg from 'pg';
import { restoredChannel } from './announce.ts';
import { databaseUrl } from '../ground/database/index.ts';

/** Who of this process hears what, by channel. */
const hearers = new Map<string, ((payload: string) => void)[]>();
let begun = false;
/** Absent while there is no connection. */
let connection: pg.Client | undefined;

/**
 * Calls `heard` for every notification on a channel, for as long as the process lives. A lost
 * connection is opened again. Whenever it is there, `heard('')` says that something may have been
 * missed until then.
 *
 * One connection for all: whoever hears of a change through this process hears of it in one moment. Of
 * two connections one may be late, and a page that is told by the first would be given what the other
 * has not made the process forget yet.
 */
export function listen(channel: string, heard: (payload: string) => void): void {
  const before = hearers.get(channel) ?? [];
  hearers.set(channel, [...before, heard]);
  if (!begun) {
    begun = true;
    void connect();
  } else if (connection) void take(connection, channel).then(() => heard(''), lost);
}

async function connect(): Promise<void> {
  const client = new pg.Client({ connectionString: databaseUrl(), keepAlive: true });
  client.on('error', () => {
    if (connection === client) connection = undefined;
    client.removeAllListeners('error').on('error', lost);
    client.end().catch(lost);
    setTimeout(() => void connect(), 1000).unref();
  });
  try {
    await client.connect();
    client.on('notification', ({ channel, payload }) => tell(channel, payload ?? ''));
    connection = client;
    for (const channel of hearers.keys()) await take(client, channel);
    // What was said before this moment was heard by nobody.
    for (const channel of hearers.keys()) tell(channel, '');
  } catch (error) {
    client.emit('error', error);
  }
}

/** Takes channels one after the other: while the first are taken, others may be asked for. */
function take(client: pg.Client, channel: string): Promise<unknown> {
  const taken = taking.then(() => client.query(`listen ${pg.escapeIdentifier(channel)}`));
  taking = taken.catch(() => undefined);
  return taken;
}

let taking: Promise<unknown> = Promise.resolve();

const tell = (channel: string, payload: string) =>
  hearers.get(channel)?.forEach((heard) => heard(payload));

/** The connection says by itself that it is lost, and is opened again. */
const lost = () => undefined;

/** Ends the process when the database is restored from a backup: what it remembers is of before. It is started again. */
export function endWhenRestored(): void {
  listen(restoredChannel, (payload) => {
    if (payload !== '') process.exit(0);
  });
}
