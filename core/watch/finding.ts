/** What the watch looks at. */
export const WATCH_CHECKS = [
  'traffic',
  'visitors',
  'split',
  'variant',
  'metric',
  'errors',
  'late',
  'guardrail',
  'page',
  'refused',
  'arrivals',
  'delay',
  'disk',
] as const
export type WatchCheck = (typeof WATCH_CHECKS)[number]

/** What is wrong, in a few words. */
export const ALARM_WORDS: Record<WatchCheck, string> = {
  traffic: 'unusual number of visits',
  visitors: 'hardly any visitors',
  split: 'the split is off',
  variant: 'a variant has no visitors',
  metric: 'a metric counts otherwise than before',
  errors: 'scripts fail in a variant',
  late: 'changes show late',
  guardrail: 'a guardrail is harmed',
  page: 'its page has changed',
  refused: 'many events are refused',
  arrivals: 'many views come late',
  delay: 'numbers are late',
  disk: 'the disk is nearly full',
}

/** Something that is wrong now. */
export interface WatchFinding {
  check: WatchCheck
  /** What of it: the same cause is the same alarm, however often it is found. */
  cause: string
  /** One or two sentences for people, with the numbers. */
  text: string
}

/**
 * Chance at one look below which counts are held to be no accident. A look an hour at six windows comes to some 50,000 in
 * a year; what that makes of false alarms is simulated in `./vetch bench calibration`.
 */
export const WATCH_LEVEL = 1e-6

/** So many hours together; short ones find what is broken outright, long ones what is quiet anyway. */
export const WINDOWS = [1, 2, 3, 6, 12, 24] as const

/** The same at the beginning of a sentence. */
export function alarmTitle(check: WatchCheck): string {
  const words = ALARM_WORDS[check]
  return words[0]!.toUpperCase() + words.slice(1)
}

export function hours(count: number): string {
  return count === 1 ? 'hour' : `${count} hours`
}

export function whole(count: number): string {
  return Math.round(count).toLocaleString('en-US')
}
