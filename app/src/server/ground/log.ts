/**
 * Writes an unexpected error to the log: what it is and where it arose, never the values it was
 * about. Errors of the database carry the values of the statement in their message, so of those
 * only the code is kept.
 */
export function logError(what: string, error: unknown): void {
  console.error(`${what}: ${describeError(error)}`);
}

function describeError(error: unknown): string {
  if (!(error instanceof Error)) return 'something that is no error was thrown';
  const places = (error.stack ?? '').split('\n').filter((line) => /^\s+at /.test(line));
  return [headline(error), ...places.slice(0, 12)].join('\n');
}

function headline(error: Error): string {
  const query = 'query' in error && 'params' in error;
  if (!query && !('severity' in error)) return `${error.name}: ${error.message}`;
  const cause = error.cause instanceof Error ? error.cause : error;
  const { code } = cause as { code?: string };
  return `${error.name} (${code ?? cause.name})`;
}
