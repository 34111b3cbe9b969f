import type { ZodType } from 'zod';

/** JSON that is kept for years: what older versions wrote is raised, what later ones wrote is refused. */
export interface Stored<T> {
  version: number;
  /** @throws StoredError where it is of a later version, or not what it should be */
  read(json: unknown): T;
  /** Plain JSON with its version; checked, so that nothing is kept that could not be read. */
  write(value: T): unknown;
}

export class StoredError extends Error {}

/** Makes JSON of one version into JSON of the next. */
export type Raise = (older: Record<string, unknown>) => Record<string, unknown>;

/**
 * @param what in words, for the sentence that refuses a later version
 * @param raises the first makes version 1 into version 2, and so on
 */
export function stored<T>(what: string, schema: ZodType<T>, raises: Raise[]): Stored<T> {
  const version = raises.length + 1;
  return {
    version,
    read(json) {
      if (typeof json !== 'object' || json === null || Array.isArray(json))
        throw new StoredError(`This is no ${what}.`);
      let raised = json as Record<string, unknown>;
      const from = raised.version ?? 1;
      if (typeof from !== 'number' || !Number.isInteger(from) || from < 1)
        throw new StoredError(`This ${what} has no version that can be read.`);
      if (from > version)
        throw new StoredError(
          `This ${what} was written by a later version of Rook Scale, which can read it.`,
        );
      for (const raise of raises.slice(from - 1)) raised = raise(raised);
      return schema.parse({ ...raised, version });
    },
    write: (value) => ({ ...(schema.parse(value) as object), version }),
  };
}
