/** Whether the database did not answer, as opposed to refusing. */
export function isConnectionError(error: unknown): boolean {
  const codes = [
    'ECONNREFUSED',
    'ECONNRESET',
    'EPIPE',
    '57P01',
    '57P02',
    '57P03',
    '57P05',
    '53300',
    'ETIMEDOUT',
    '08006',
    '08003',
  ];
  let current: unknown = error;
  while (current instanceof Error) {
    if (codes.includes((current as { code?: string }).code ?? '')) return true;
    if (
      /Connection terminated|not queryable|timeout exceeded when trying to connect/.test(
        current.message,
      )
    )
      return true;
    current = current.cause;
  }
  return false;
}

/** Disk full and out of memory (PostgreSQL, Appendix A): over once there is room again. */
const shortages = ['53100', '53200'];

/** Whether work that met this error is as good as before, and is simply done again later. */
export function passesByItself(error: unknown): boolean {
  return isConnectionError(error) || shortages.includes(databaseCode(error) ?? '');
}

/** The code that the database gave an error, however often it was wrapped. */
export function databaseCode(error: unknown): string | undefined {
  for (let current = error; current instanceof Error; current = current.cause)
    if ('severity' in current) return (current as { code?: string }).code;
  return undefined;
}
