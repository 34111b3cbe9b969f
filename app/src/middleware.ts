import { randomUUID } from 'node:crypto';
import type { APIContext } from 'astro';
import { defineMiddleware } from 'astro:middleware';
import * as z from 'zod';
import { prepareReader } from './server/intake/index.ts';
import { endWhenRestored, queue } from './server/jobs/index.ts';
import { isConnectionError } from './server/ground/database/index.ts';
import { logError } from './server/ground/log.ts';
import { asPerson } from './server/ground/person.ts';

// The queue takes half a second to be reached: better now than with the first change.
endWhenRestored();
prepareReader();
void queue().catch((error: unknown) => logError('queue', error));

/**
 * What the page builder has no words for: a style attribute, which places one thing on a page that
 * was drawn by the server, can bring no script and, with images and fonts from here alone, no news
 * to others.
 */
const alsoAllowed = "style-src-attr 'unsafe-inline'; frame-ancestors 'none'";

const safeMethods = new Set(['GET', 'HEAD', 'OPTIONS']);

/** Refuses changes asked for by a page of another origin, and forbids framing and keeping copies. */
export const onRequest = defineMiddleware(async (context, next) => {
  const { request, url } = context;
  if (!safeMethods.has(request.method) && !sameOrigin(request, url)) {
    return Response.json(
      {
        code: 'other-origin',
        sentence: 'This request came from another site and was refused. Nothing was changed.',
      },
      { status: 403 },
    );
  }
  let response: Response;
  try {
    response = await asPerson(personOf(context), request.headers.get('rook-consent'), () => next());
  } catch (error) {
    // Left to the page builder, values of patients could reach its log with the message.
    if (!isConnectionError(error)) logError('page', error);
    context.locals.error = error;
    response = await context.rewrite('/500');
  }
  // Pages and answers are about patients: no copy of them is to lie in a browser or between.
  response.headers.set('Cache-Control', 'no-store');
  const policy = response.headers.get('Content-Security-Policy');
  if (policy) response.headers.set('Content-Security-Policy', `${policy} ${alsoAllowed}`);
  response.headers.set('X-Frame-Options', 'DENY');
  response.headers.set('Referrer-Policy', 'same-origin');
  return response;
});

/** The name of the cookie by which a browser is known again: undo takes back what was done there. */
const personCookie = 'rook-person';

function personOf({ cookies, url }: Pick<APIContext, 'cookies' | 'url'>): string {
  const known = z.uuid().safeParse(cookies.get(personCookie)?.value);
  if (known.success) return known.data;
  const person = randomUUID();
  cookies.set(personCookie, person, {
    path: '/',
    httpOnly: true,
    sameSite: 'lax',
    secure: url.protocol === 'https:',
    maxAge: 400 * 24 * 3600,
  });
  return person;
}

/** Browsers send Origin with every unsafe request; a program without one is no browser and is let through only if it says nothing of another site. */
function sameOrigin(request: Request, url: URL): boolean {
  const origin = request.headers.get('origin');
  if (!origin) return request.headers.get('sec-fetch-site') !== 'cross-site';
  const own = process.env.PUBLIC_ORIGIN ?? `${url.protocol}//${request.headers.get('host') ?? ''}`;
  return origin === own;
}
