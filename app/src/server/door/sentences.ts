import type * as z from 'zod';

type Raw = z.core.$ZodRawIssue;

/** One sentence for each kind of issue for which a schema gives no message. */
const sentences: { [Code in Raw['code']]: (issue: Extract<Raw, { code: Code }>) => string } = {
  invalid_type: ({ expected, input }) =>
    input === undefined
      ? `${things[expected] ?? 'A value'} is missing.`
      : `${things[expected] ?? 'Another kind of value'} is needed.`,
  too_big: ({ maximum, origin }) => `At most ${String(maximum)}${unitOf(origin)} can be given.`,
  too_small: ({ minimum, origin }) => `At least ${String(minimum)}${unitOf(origin)} must be given.`,
  invalid_format: ({ format }) =>
    format === 'uuid' ? 'An id is needed.' : 'The text does not have the form that is needed.',
  not_multiple_of: ({ divisor }) => `A multiple of ${String(divisor)} is needed.`,
  unrecognized_keys: ({ keys }) => `${keys.slice(0, 3).join(', ')} is not known here.`,
  invalid_union: () => 'The value has none of the forms that are possible here.',
  invalid_key: () => 'A name is not one that is possible here.',
  invalid_element: () => 'One of the values is not possible here.',
  invalid_value: ({ values }) =>
    `One of these is needed: ${values.slice(0, 12).map(String).join(', ')}.`,
  custom: () => 'The value is not possible here.',
};

const things: Record<string, string> = {
  string: 'A text',
  number: 'A number',
  int: 'A whole number',
  boolean: 'Yes or no',
  array: 'A list',
  object: 'An object',
  record: 'An object',
  date: 'A date',
};

/** The unit of a limit. */
const unitOf = (origin: string): string =>
  origin === 'string' ? ' characters' : origin === 'array' || origin === 'set' ? ' entries' : '';

/**
 * The sentence for an issue of a request, with its path in front; for `parse(…, { error: plainly })`. A message given
 * by the schema takes precedence.
 */
export function plainly(issue: Raw): string {
  const where = (issue.path ?? []).map(String).join(' › ');
  const sentence = (sentences[issue.code] as (issue: Raw) => string)(issue);
  return where ? `${where}: ${sentence}` : sentence;
}
