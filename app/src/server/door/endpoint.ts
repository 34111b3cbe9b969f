import { randomUUID } from 'node:crypto';
import { setTimeout as wait } from 'node:timers/promises';
import type { APIContext, APIRoute } from 'astro';
import * as z from 'zod';
import { DesignError } from '@rook-scale/core/design';
import { writeJson } from '@rook-scale/core/stored';
import { TooManyLevels } from '@rook-scale/core/table';
import { databaseCode, isConnectionError } from '../ground/database/index.ts';
import { logError } from '../ground/log.ts';
import { Problem } from '../ground/problem.ts';
import { letIn } from './access.ts';

/** Milliseconds. */
const readAgainAfter = 50;

export interface EndpointOptions {
  /** Also for what is deleted: to bring it back, or to erase it. */
  deleted?: boolean;
}

/**
 * Wraps an endpoint: whoever comes is let in to what is there only, what it returns is sent as JSON,
 * what it throws as a sentence with a code. An unexpected error is logged once under a reference and
 * answered with that reference alone.
 */
export function endpoint(
  handle: (context: APIContext) => Promise<unknown>,
  { deleted = false }: EndpointOptions = {},
): APIRoute {
  return async (context) => {
    const answerOnce = async () => {
      if (!deleted) await letIn(context.params);
      return handle(context);
    };
    // A connection that broke while it idled is noticed by who is given it: reading is simply done again.
    const answer = () =>
      context.request.method === 'GET'
        ? answerOnce().catch(async (error: unknown) => {
            if (!isConnectionError(error)) throw error;
            await wait(readAgainAfter);
            return answerOnce();
          })
        : answerOnce();
    try {
      for (const name of Object.keys(context.params)) readId(context, name);
      const result = await answer();
      if (result instanceof Response) return result;
      return new Response(writeJson(result === undefined ? {} : result), {
        headers: { 'Content-Type': 'application/json' },
      });
    } catch (error) {
      return answerError(error);
    }
  };
}

/** A route parameter that must be an id. */
export function readId(context: APIContext, name: string): string {
  const value = z.uuid().safeParse(context.params[name]);
  if (!value.success) throw new Problem(404, 'not-found', 'There is nothing at this address.');
  return value.data;
}

/** What an error is to whoever asked: a status, a code for programs and a sentence for people. */
export function answerError(error: unknown): Response {
  const { status, code, sentence } = describe(error);
  // What is left of a body that was too large would be taken for the next request.
  const headers = status === 413 ? { Connection: 'close' } : undefined;
  return Response.json({ code, sentence }, { status, headers });
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
  const refused = refusals.get(databaseCode(error) ?? '');
  if (refused) return refused;
  const reference = randomUUID().slice(0, 8);
  logError(`error ${reference}`, error);
  return {
    status: 500,
    code: 'unexpected',
    sentence: `Something went wrong that we did not foresee. What was saved is safe. Reference ${reference}.`,
  };
}

/** What the database refuses because of what others did at the same moment (PostgreSQL, Appendix A). */
const refusals = new Map([
  [
    '23505',
    {
      status: 409,
      code: 'there-already',
      sentence: 'This was done already, perhaps in another tab. Nothing was changed twice.',
    },
  ],
  [
    '23503',
    {
      status: 409,
      code: 'gone-meanwhile',
      sentence: 'What this belongs to was deleted meanwhile. Nothing was changed.',
    },
  ],
  [
    '53100',
    {
      status: 503,
      code: 'disk-full',
      sentence:
        'The disk of the database is full. Nothing was changed. Free some space, then try again.',
    },
  ],
  [
    '53200',
    {
      status: 503,
      code: 'memory-short',
      sentence: 'The database is short of memory. Nothing was changed; try again in a moment.',
    },
  ],
  ...['40001', '40P01', '55P03'].map(
    (code) =>
      [
        code,
        {
          status: 503,
          code: 'busy',
          sentence:
            'Someone else changed the same thing at the same moment. Nothing was changed; try again.',
        },
      ] as const,
  ),
]);
