import { createServer } from 'node:net';

/** The first free TCP port of 127.0.0.1 from `first` on. */
export async function freePort(first) {
  for (let port = first; port < first + 200; port++) if (await isFree(port)) return port;
  throw new Error(`No port is free between ${first} and ${first + 199}.`);
}

function isFree(port) {
  return new Promise((resolve) => {
    const probe = createServer();
    probe.once('error', () => resolve(false));
    probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(true)));
  });
}
