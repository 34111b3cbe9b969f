/** How a number that JSON has no form for is written: `{"$number": "Infinity"}`. */
const key = '$number';
const named: Record<string, number> = { Infinity, '-Infinity': -Infinity, NaN };

/**
 * JSON in which numbers that are not finite keep their value: `{"$number": "Infinity"}`, `"-Infinity"` or
 * `"NaN"`. Plain `JSON.stringify` turns them into `null`, which reads as "absent".
 *
 * @example writeJson({ aic: -Infinity }) // '{"aic":{"$number":"-Infinity"}}'
 */
export function writeJson(value: unknown): string {
  const plain = JSON.stringify(value);
  // Only where something became null can a number have been lost.
  if (!plain?.includes('null')) return plain;
  return JSON.stringify(value, (_, part: unknown) =>
    typeof part === 'number' && !Number.isFinite(part) ? { [key]: String(part) } : part,
  );
}

/**
 * What `writeJson` wrote.
 *
 * @example readJson('{"aic":{"$number":"-Infinity"}}') // { aic: -Infinity }
 */
export function readJson(text: string): unknown {
  if (!text.includes(`"${key}"`)) return JSON.parse(text) as unknown;
  return JSON.parse(text, (_, part: unknown) => {
    if (typeof part !== 'object' || part === null || !(key in part)) return part;
    const name = (part as Record<string, unknown>)[key];
    return typeof name === 'string' && Object.hasOwn(named, name) ? named[name] : part;
  }) as unknown;
}
