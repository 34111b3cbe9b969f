import { randomUUID } from 'node:crypto';
import type { APIContext, APIRoute } from 'astro';
import * as z from 'zod';
import { DesignError } from '@rook-scale/core/design';
import { TooManyLevels } from '@rook-scale/core/table';
import { logError } from './log.ts';
import { isConnectionError } from './database/index.ts';
import { Problem } from './problem.ts';

/**
 * Wraps an endpoint: what it returns is sent as JSON, what it throws as a sentence with a code.
 * An unexpected error is logged once under a reference and answered with that reference alone.
 */
export function endpoint(handle: (context: APIContext) => Promise<unknown>): APIRoute {
  return async (context) => {
    try {
      const result = await handle(context);
      return result instanceof Response
        ? result
        : Response.json(result === undefined ? {} : result);
    } catch (error) {
      return answerError(error);
    }
  };
}

/** The JSON body, checked. */
export async function readBody<T>(request: Request, schema: z.ZodType<T>): Promise<T> {
  let body: unknown;
  try {
    body = await request.json();
  } catch {
    throw new Problem(400, 'no-json', 'The request was cut short. Nothing was changed; try again.');
  }
  return schema.parse(body);
}

/** A route parameter that must be an id. */
export function readId(context: APIContext, name: string): string {
  const value = z.uuid().safeParse(context.params[name]);
  if (!value.success) throw new Problem(404, 'not-found', 'There is nothing at this address.');
  return value.data;
}

/** The query of the address, checked. */
export function readQuery<T>(context: APIContext, schema: z.ZodType<T>): T {
  return schema.parse(Object.fromEntries(context.url.searchParams));
}

function answerError(error: unknown): Response {
  const { status, code, sentence } = describe(error);
  return Response.json({ code, sentence }, { status });
}

function describe(error: unknown): { status: number; code: string; sentence: string } {
  if (error instanceof Problem) return error;
  if (error instanceof z.ZodError)
    return {
      status: 400,
      code: 'invalid',
      sentence: error.issues[0]?.message ?? 'The request was not understood.',
    };
  if (error instanceof DesignError || error instanceof TooManyLevels)
    return { status: 422, code: 'not-possible', sentence: error.message };
  if (isConnectionError(error))
    return {
      status: 503,
      code: 'database-away',
      sentence: 'The database does not answer. Nothing was lost; try again in a moment.',
    };
  const reference = randomUUID().slice(0, 8);
  logError(`error ${reference}`, error);
  return {
    status: 500,
    code: 'unexpected',
    sentence: `Something went wrong that we did not foresee. What was saved is safe. Reference ${reference}.`,
  };
}
