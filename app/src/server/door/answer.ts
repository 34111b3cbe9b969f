import type { APIRoute } from 'astro';
import type * as z from 'zod';
import type { IdsOf, Route, Schema } from '../../contract/route.ts';
import { readBody, readQuery } from './body.ts';
import { endpoint, readId, type EndpointOptions } from './endpoint.ts';

type Read<S extends Schema> = S extends z.ZodType ? z.output<S> : undefined;

/** What came with a request, checked as its route says. */
export interface Asked<Path extends string, Query extends Schema, Body extends Schema> {
  ids: IdsOf<Path>;
  query: Read<Query>;
  body: Read<Body>;
  request: Request;
}

interface Options extends EndpointOptions {
  /** Bytes that the body may have, where it is not the usual. */
  limit?: number;
}

/**
 * The endpoint of a route: reads what it carries, and answers in the shape that it promises. The file
 * that exports it has to be where the path says, under the name of the method.
 */
export function answer<Path extends string, Query extends Schema, Body extends Schema, Answer>(
  route: Route<Path, Query, Body, Answer>,
  handle: (asked: Asked<Path, Query, Body>) => Promise<Answer>,
  { limit, ...options }: Options = {},
): APIRoute {
  return endpoint(async (context) => {
    const { request } = context;
    const ids = Object.keys(context.params).map((name) => [name, readId(context, name)]);
    return handle({
      ids: Object.fromEntries(ids) as IdsOf<Path>,
      query: (route.query && readQuery(context, route.query)) as Read<Query>,
      body: (route.body && (await readBody(request, route.body, limit))) as Read<Body>,
      request,
    });
  }, options);
}
