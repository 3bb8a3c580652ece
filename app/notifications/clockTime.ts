/** A minute of the day as fields for a time have it. */
export function clockOf(minute: number): string {
  return `${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}`
}

/** The minute of the day that a field for a time holds; null where it holds none. */
export function minuteOf(clock: string): number | null {
  const [, hours, minutes] = /^([01]\d|2[0-3]):([0-5]\d)$/.exec(clock) ?? []
  return hours === undefined ? null : Number(hours) * 60 + Number(minutes)
}
