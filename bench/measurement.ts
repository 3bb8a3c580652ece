/** One line of `./vetch bench`: a measurement beside its reference from the same run. */
export interface Measurement {
  name: string
  value: number
  unit: string
  /** What the value is compared with. */
  reference?: { what: string; value: number; ratio: number }
  aim?: string
  details?: Record<string, unknown>
}

/**
 * Whether only a small part of the work is done: it shows that a benchmark runs, and gives no figures.
 * `./vetch test` does so, that none breaks unseen.
 */
export const isQuick = process.argv.includes('--quick')

/** The size of what is measured. */
export function sized(full: number, quick: number): number {
  return isQuick ? quick : full
}

/**
 * @throws Error for a measurement that has measured nothing
 */
export function checkMeasured({ name, value, unit }: Measurement): void {
  const mayBeNothing = unit.startsWith('share of')
  if (!Number.isFinite(value) || value < 0 || (value === 0 && !mayBeNothing))
    throw new Error(`"${name}" has measured ${value} ${unit}.`)
}

/** Milliseconds that work takes, the median of several runs. */
export async function medianMilliseconds(runs: number, work: () => unknown): Promise<number> {
  const times: number[] = []
  for (let run = 0; run < runs; run++) {
    const start = performance.now()
    await work()
    times.push(performance.now() - start)
  }
  return times.sort((a, b) => a - b)[Math.floor(runs / 2)]!
}

/** The value that a share of all lies under, 0 to 1. */
export function percentile(values: readonly number[], share: number): number {
  const sorted = [...values].sort((a, b) => a - b)
  return sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))]!
}

export function rounded(value: number, digits = 4): number {
  return Number(value.toPrecision(digits))
}
