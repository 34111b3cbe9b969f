import { readJson } from '@rook-scale/core/stored';
import type * as z from 'zod';
import { askPerson, questions } from './consent.ts';
import type { IdsOf, Route, Schema } from '../contract/route.ts';

/** An answer of the server that says what went wrong in a sentence. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    sentence: string,
  ) {
    super(sentence);
  }
}

const unreachable =
  'The server cannot be reached. What was saved is safe; this page carries on when it is back.';

/** Fetches JSON; throws an ApiError whose message can be shown as it is. */
export async function request<T>(
  method: string,
  path: string,
  body?: unknown,
  signal?: AbortSignal,
  agreed: string[] = [],
): Promise<T> {
  const file = body instanceof Blob;
  let response: Response;
  try {
    response = await fetch(path, {
      method,
      signal,
      body: file ? body : body === undefined ? undefined : JSON.stringify(body),
      headers: {
        'Content-Type': file ? 'application/octet-stream' : 'application/json',
        ...(agreed.length > 0 && { 'Rook-Consent': agreed.join(',') }),
      },
    });
  } catch {
    if (signal?.aborted) throw new ApiError(0, 'cancelled', 'Cancelled. Nothing was stored.');
    throw new ApiError(0, 'unreachable', unreachable);
  }
  const answer = (await response
    .text()
    .then(readJson, () => ({}))
    .catch(() => ({}))) as {
    code?: string;
    sentence?: string;
  };
  const question = response.status === 409 ? questions[answer.code ?? ''] : undefined;
  if (question && !agreed.includes(question.agrees)) {
    const { title, yes, consequence, agrees } = question;
    if (await askPerson({ title, text: answer.sentence ?? '', consequence, yes }))
      return request(method, path, body, signal, [...agreed, agrees]);
    throw new ApiError(409, 'not-agreed', 'Nothing was changed.');
  }
  if (!response.ok)
    throw new ApiError(response.status, answer.code ?? 'unknown', answer.sentence ?? unreachable);
  return answer as T;
}

type Given<S extends Schema> = S extends z.ZodType ? z.input<S> : undefined;

/** What a route carries; nothing has to be given where it carries nothing. */
type Carried<Query extends Schema, Body extends Schema> = (Query extends z.ZodType
  ? { query: Given<Query> }
  : object) &
  (Body extends z.ZodType ? { body: Given<Body> } : object) & { signal?: AbortSignal };

/** Asks what a route answers; throws an ApiError whose message can be shown as it is. */
export function ask<Path extends string, Query extends Schema, Body extends Schema, Answer>(
  { method, path }: Route<Path, Query, Body, Answer>,
  ids: IdsOf<Path>,
  ...[carried]: object extends Carried<Query, Body>
    ? [Carried<Query, Body>?]
    : [Carried<Query, Body>]
): Promise<Answer> {
  const { query, body, signal } = (carried ?? {}) as {
    query?: Record<string, string | number | undefined>;
    body?: unknown;
    signal?: AbortSignal;
  };
  const there = path.replace(/\[(\w+)\]/g, (_, name: string) => ids[name as keyof typeof ids]);
  const asked = Object.entries(query ?? {}).flatMap(([name, value]) =>
    value === undefined ? [] : [[name, String(value)]],
  );
  const search = asked.length > 0 ? `?${new URLSearchParams(asked).toString()}` : '';
  return request(method, there + search, body, signal);
}

/** The sentence of an error; every error we throw has one. */
export function messageOf(error: unknown): string {
  return error instanceof Error ? error.message : unreachable;
}

export const get = <T>(path: string) => request<T>('GET', path);

/** Numbers that came as base64 of little-endian Float64. */
export function unpackNumbers(text: string): Float64Array {
  return new Float64Array(unpackBytes(text).buffer);
}

/** Bytes that came as base64. */
export function unpackBytes(text: string): Uint8Array<ArrayBuffer> {
  const binary = atob(text);
  const bytes = new Uint8Array(binary.length);
  for (let i = 0; i < binary.length; i++) bytes[i] = binary.charCodeAt(i);
  return bytes;
}
