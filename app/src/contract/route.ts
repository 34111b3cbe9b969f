import type * as z from 'zod';

export type Schema = z.ZodType | undefined;
export type Method = 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';

/** One request of the product: where it goes, what it carries, and what is answered. */
export interface Route<
  Path extends string = string,
  Query extends Schema = Schema,
  Body extends Schema = Schema,
  Answer = unknown,
> {
  method: Method;
  /** Ids in brackets, as the file that answers it is named. */
  path: Path;
  query: Query;
  body: Body;
  /** Only in the types: what is answered, as it arrives; moments are text (ISO 8601). */
  answer?: Answer;
}

/** The ids of a path by name. */
export type IdsOf<Path extends string> = {
  [Id in NamesIn<Path>]: string;
};
type NamesIn<Path extends string> = Path extends `${string}[${infer Id}]${infer Rest}`
  ? Id | NamesIn<Rest>
  : never;

/** Makes a route whose answer is of this type: `route<Answer>()('GET', '/api/…')`. */
export const route =
  <Answer = void>() =>
  <const Path extends string, Query extends Schema = undefined, Body extends Schema = undefined>(
    method: Method,
    path: Path,
    carries: { query?: Query; body?: Body } = {},
  ): Route<Path, Query, Body, Answer> => ({
    method,
    path,
    query: carries.query as Query,
    body: carries.body as Body,
  });
