// The web server: files that were compressed when the product was built, then the pages and endpoints.
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import { fileURLToPath } from 'node:url';
import { constants } from 'node:zlib';
import compression from 'compression';
import sirv from 'sirv';

type Next = () => void;
type Handler = (request: IncomingMessage, response: ServerResponse, next?: Next) => void;

const near = (path: string) => new URL(path, import.meta.url);
const { handler } = (await import(near('../server/entry.mjs').href)) as { handler: Handler };

const year = 31_536_000;
const files = sirv(fileURLToPath(near('../client')), {
  brotli: true,
  gzip: true,
  setHeaders(response, path) {
    response.setHeader('X-Content-Type-Options', 'nosniff');
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

// Without a next one the handler draws the page for what is not there itself.
const server = createServer((request, response) => {
  files(request, response, () => compress(request, response, () => handler(request, response)));
});
// A cohort may take longer to send and to store than a page to answer.
server.requestTimeout = 0;
server.listen(Number(process.env.PORT), process.env.HOST ?? '127.0.0.1');

for (const signal of ['SIGTERM', 'SIGINT'] as const)
  process.on(signal, () => {
    server.closeAllConnections();
    server.close(() => process.exit(0));
  });
