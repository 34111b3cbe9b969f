import type { IncomingMessage } from 'node:http';

interface Where {
  /** The address that the web server listens on. */
  host: string;
  port: number;
  /** How browsers reach it where another server stands before it. */
  publicOrigin: string | undefined;
}

/**
 * Tells requests that name this server from those that name another. A name elsewhere that resolves
 * to this machine would let a foreign page read patients as if it were one of ours (common practice).
 */
export function knownHosts({ host, port, publicOrigin }: Where) {
  const names = ['localhost', '127.0.0.1', '[::1]', host.includes(':') ? `[${host}]` : host];
  const known = new Set(
    names.flatMap((name) => [`${name}:${port}`, ...(port === 80 ? [name] : [])]),
  );
  if (publicOrigin) known.add(new URL(publicOrigin).host);
  return ({ headers }: IncomingMessage): boolean =>
    headers.host !== undefined && known.has(headers.host.toLowerCase());
}
