/** A setting of the process; without it, it cannot begin. */
export function textFrom(name: string): string {
  const text = process.env[name]
  if (!text) throw new Error(`${name} is not set.`)
  return text
}

export function numberFrom(name: string): number {
  return Number(textFrom(name))
}

/** A setting of several values, separated by commas; none where it is not set. */
export function listFrom(name: string): string[] {
  return (process.env[name] ?? '').split(',').filter(Boolean)
}

/** Resolves when whoever started the process asks it to end. */
export function untilAskedToEnd(): Promise<void> {
  return new Promise((asked) => {
    for (const signal of ['SIGTERM', 'SIGINT'] as const) process.once(signal, () => asked())
  })
}
