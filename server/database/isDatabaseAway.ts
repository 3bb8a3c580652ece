/** A full disk, as PostgreSQL says it. */
const DISK_FULL = '53100'
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
  DISK_FULL,
])

/** Whether an error comes from a database that is away, or has no room, rather than from a mistake. */
export function isDatabaseAway(error: unknown): boolean {
  const isLost =
    /connection terminated|timeout exceeded when trying to connect|server closed the connection|connection error and is not queryable|Query read timeout/i
  return causesOf(error).some(({ code, message }) => CONNECTION_ERRORS.has(code) || isLost.test(message))
}

/** Whether an error comes from a database whose disk is full. */
export function isDiskFull(error: unknown): boolean {
  return causesOf(error).some(({ code }) => code === DISK_FULL)
}

/** An error, what caused it, and so on. */
function causesOf(error: unknown): { code: string; message: string }[] {
  if (!(error instanceof Error)) return []
  return [{ code: 'code' in error ? String(error.code) : '', message: error.message }, ...causesOf(error.cause)]
}
