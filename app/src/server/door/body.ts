import * as z from 'zod';
import { Problem } from '../ground/problem.ts';
import { plainly } from './sentences.ts';

/** Largest JSON body that an endpoint takes unless it says otherwise, in bytes. */
const bodyLimit = 256 * 1024;

/** For bodies that carry dictionaries: thousands of columns with their levels, twice. */
export const dictionaryLimit = 32 * 1024 * 1024;

/** The JSON body, checked; never more of it in memory than `limit` bytes. */
export async function readBody<T>(
  request: Request,
  schema: z.ZodType<T>,
  limit = bodyLimit,
): Promise<T> {
  const text = await readText(request, limit);
  let body: unknown;
  try {
    body = JSON.parse(text);
  } catch (error) {
    // Nested deeper than the parser can go.
    if (error instanceof RangeError) throw tooDeep();
    throw cutShort();
  }
  refuseUnstorable(body);
  return schema.parse(body, { error: plainly });
}

/** The query of an address, checked. */
export function readQuery<T>({ url }: { url: URL }, schema: z.ZodType<T>): T {
  const query = Object.fromEntries(url.searchParams);
  refuseUnstorable(query);
  return schema.parse(query, { error: plainly });
}

/** Bytes beyond a limit that are still taken in before the connection is given up. */
const droppedAtMost = 64 * 1024 * 1024;

async function readText({ body }: Request, limit: number): Promise<string> {
  const reader = body?.getReader();
  if (!reader) return '';
  const pieces: Uint8Array[] = [];
  let bytes = 0;
  try {
    for (;;) {
      const { done, value } = await reader.read();
      if (done) break;
      bytes += value.length;
      // What is too much is taken in and dropped: an answer before its end might not be read.
      if (bytes <= limit) pieces.push(value);
      else if (bytes > limit + droppedAtMost) break;
    }
  } catch {
    throw cutShort();
  }
  if (bytes > limit) {
    pieces.length = 0;
    void reader.cancel().catch(() => undefined);
    throw new Problem(
      413,
      'body-too-large',
      `The request is larger than the ${sizeOf(limit)} that are taken here. Nothing was changed.`,
    );
  }
  return Buffer.concat(pieces).toString('utf8');
}

const cutShort = () =>
  new Problem(400, 'no-json', 'The request was cut short. Nothing was changed; try again.');

const sizeOf = (bytes: number) =>
  bytes >= 1024 * 1024 ? `${bytes / 1024 / 1024} MB` : `${bytes / 1024} kB`;

/** Values inside of values, at most. */
const deepest = 64;

/** The database keeps neither NUL nor half of a character; both come from broken programs only. */
function refuseUnstorable(value: unknown, depth = 0): void {
  if (depth > deepest) throw tooDeep();
  if (typeof value === 'string') {
    if (value.includes('\u0000') || !isWellFormed(value))
      throw new Problem(
        400,
        'unstorable',
        'A text holds a NUL or half of a character, which cannot be kept. Nothing was changed; take it out.',
      );
  } else if (Array.isArray(value)) for (const item of value) refuseUnstorable(item, depth + 1);
  else if (typeof value === 'object' && value !== null)
    for (const [key, item] of Object.entries(value)) {
      refuseUnstorable(key, depth + 1);
      refuseUnstorable(item, depth + 1);
    }
}

/** A surrogate without its other half stands alone. */
function isWellFormed(text: string): boolean {
  return !/[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/.test(text);
}

const tooDeep = () =>
  new Problem(
    400,
    'too-deep',
    `The request has more than ${deepest} values inside of each other. Nothing was changed.`,
  );
