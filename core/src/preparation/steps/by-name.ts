import * as z from 'zod';

/** A record under names out of a file: any name, `__proto__` too, which a schema's record leaves out. */
export const byName = <T>() =>
  z.custom<Record<string, T>>((value) => typeof value === 'object' && value !== null);
