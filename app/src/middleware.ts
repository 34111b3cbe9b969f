import { defineMiddleware } from 'astro:middleware';
import { queue } from './server/jobs/index.ts';
import { logError } from './server/log.ts';

// The queue takes half a second to be reached: better now than with the first change.
void queue().catch((error: unknown) => logError('queue', error));

const safeMethods = new Set(['GET', 'HEAD', 'OPTIONS']);

/** Refuses changes asked for by a page of another origin, and forbids framing and foreign content. */
export const onRequest = defineMiddleware(async ({ request, url }, next) => {
  if (!safeMethods.has(request.method) && !sameOrigin(request, url)) {
    return Response.json(
      {
        code: 'other-origin',
        sentence: 'This request came from another site and was refused. Nothing was changed.',
      },
      { status: 403 },
    );
  }
  const response = await next();
  response.headers.set('X-Content-Type-Options', 'nosniff');
  response.headers.set('X-Frame-Options', 'DENY');
  response.headers.set('Referrer-Policy', 'same-origin');
  return response;
});

/** Browsers send Origin with every unsafe request; a program without one is no browser and is let through only if it says nothing of another site. */
function sameOrigin(request: Request, url: URL): boolean {
  const origin = request.headers.get('origin');
  if (!origin) return request.headers.get('sec-fetch-site') !== 'cross-site';
  const own = process.env.PUBLIC_ORIGIN ?? `${url.protocol}//${request.headers.get('host') ?? ''}`;
  return origin === own;
}
