const CONNECTION_ERRORS = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'EPIPE',
  '57P01',
  '57P02',
  '57P03',
  '08006',
  '08003',
  '53300',
])

/** Whether an error comes from a database that is away rather than from a mistake. */
export function isDatabaseAway(error: unknown): boolean {
  for (let cause = error; cause instanceof Error; cause = cause.cause) {
    const code = 'code' in cause ? String(cause.code) : ''
    const isLost =
      /connection terminated|timeout exceeded when trying to connect|server closed the connection|connection error and is not queryable|Query read timeout/i
    if (CONNECTION_ERRORS.has(code) || isLost.test(cause.message)) return true
  }
  return false
}
