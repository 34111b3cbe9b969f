/** Whether two values are the same, whatever the order of keys: the database keeps another one than the pages. */
export const same = (a: unknown, b: unknown) => inOrder(a) === inOrder(b);

/** JSON with the keys of every object in order. */
export function inOrder(value: unknown): string {
  return JSON.stringify(value ?? null, (_, part: unknown) =>
    typeof part === 'object' && part !== null && !Array.isArray(part)
      ? Object.fromEntries(Object.entries(part).sort(([a], [b]) => (a < b ? -1 : 1)))
      : part,
  );
}
