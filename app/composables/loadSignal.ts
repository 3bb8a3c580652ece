let current: AbortSignal | undefined

/** Starts work whose requests end with a signal: those that it makes before it first waits. */
export function withLoadSignal<Result>(signal: AbortSignal, work: () => Result): Result {
  const before = current
  current = signal
  try {
    return work()
  } finally {
    current = before
  }
}

export const loadSignal = (): AbortSignal | undefined => current
