// The web server: files that were compressed when the product was built, then the pages and endpoints.
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import { fileURLToPath } from 'node:url';
import { constants } from 'node:zlib';
import compression from 'compression';
import sirv from 'sirv';
import { knownHosts } from './hosts.ts';

type Next = () => void;
type Handler = (request: IncomingMessage, response: ServerResponse, next?: Next) => void;

const near = (path: string) => new URL(path, import.meta.url);
const { handler } = (await import(near('../server/entry.mjs').href)) as { handler: Handler };

const year = 31_536_000;
const files = sirv(fileURLToPath(near('../client')), {
  brotli: true,
  gzip: true,
  setHeaders(response, path) {
    // Names under assets change with their content.
    response.setHeader(
      'Cache-Control',
      path.startsWith('/assets/') ? `public, max-age=${year}, immutable` : 'no-cache',
    );
  },
});

/** Pages and answers on their way; a stream of events must not wait until it is worth compressing. */
const compress = compression({
  level: 1,
  brotli: { params: { [constants.BROTLI_PARAM_QUALITY]: 4 } },
  filter: (request, response) =>
    !String(response.getHeader('Content-Type')).startsWith('text/event-stream') &&
    compression.filter(request, response),
}) as unknown as Handler;

const host = process.env.HOST ?? '127.0.0.1';
const port = Number(process.env.PORT);
const isKnown = knownHosts({ host, port, publicOrigin: process.env.PUBLIC_ORIGIN });
const methods = new Set(['GET', 'HEAD', 'OPTIONS', 'POST', 'PUT', 'PATCH', 'DELETE']);

// Without a next one the handler draws the page for what is not there itself.
const server = createServer((request, response) => {
  response.setHeader('X-Content-Type-Options', 'nosniff');
  if (!methods.has(request.method ?? '')) {
    refuse(response, 405, 'no-such-method', 'There is nothing that is done in this way.');
    return;
  }
  if (!isKnown(request)) {
    refuse(
      response,
      421,
      'unknown-host',
      'This server is not known by that name. Open it under its own address, or start it with HOST or PUBLIC_ORIGIN set to the name.',
    );
    return;
  }
  files(request, response, () => compress(request, response, () => handler(request, response)));
});
// A cohort may take hours over a slow line; whoever stops sending holds no connection for ever.
server.requestTimeout = 3 * 3_600_000;
// Longer than browsers and proxies keep a connection that they may use again at any moment.
server.keepAliveTimeout = 75_000;
server.listen(port, host);

const end = () => {
  server.closeAllConnections();
  server.close(() => process.exit(0));
};
process.on('SIGTERM', end);
process.on('SIGINT', end);
// Whoever started us is gone, and with it whoever would stop us.
process.on('disconnect', end);

function refuse(response: ServerResponse, status: number, code: string, sentence: string): void {
  response.writeHead(status, { 'Content-Type': 'application/json', Connection: 'close' });
  response.end(JSON.stringify({ code, sentence }));
}
