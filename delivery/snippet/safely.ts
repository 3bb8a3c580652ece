/** Runs work, and keeps to itself whatever goes wrong: nothing of ours becomes an error of the page. */
export function safely<Result>(work: () => Result): Result | undefined {
  try {
    return work()
  } catch {
    return undefined
  }
}

/** A function for the page or the browser to call, which never throws. */
export function guarded<Arguments extends unknown[]>(
  work: (...args: Arguments) => unknown,
): (...args: Arguments) => void {
  return (...args) => {
    const result = safely(() => work(...args))
    if (result instanceof Promise) result.catch(() => {})
  }
}
