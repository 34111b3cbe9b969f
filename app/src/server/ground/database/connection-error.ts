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
