import { dayAfter, firstMoment } from '~~/core/time/siteDay'
import { SEGMENT_DIMENSIONS } from '~~/core/traffic/segment'
import type { Trait } from '~~/core/traffic/splitByTrait'
import { runDays } from '~/sheets/runDays'
import { segmentText, type SegmentText } from '~~/shared/evidence/filter'
import type { ExperimentSheet } from '~~/shared/experiments/replies'
import type { SplitView } from '~~/shared/experiments/resultsReplies'

export const TRAIT_NAMES: Record<Trait, string> = {
  period: 'Time between changes',
  day: 'Day',
  hour: 'Hour of the day',
  device: 'Device',
  system: 'Operating system',
  browser: 'Browser',
  browserVersion: 'Browser version',
  source: 'Source',
  country: 'Country',
  visitor: 'New or returning',
  entry: 'Entry page',
  page: 'Page',
}

/** What a value of a trait is called. */
export function splitValueName(trait: Trait, value: string, { periods }: SplitView, timeZone: string): string {
  if (value === '') return 'all others'
  if (trait === 'day') return formatDate(`${value}T12:00:00Z`, 'UTC')
  if (trait === 'hour') return `${value}:00 to ${value}:59`
  if (trait !== 'period') return value
  const period = periods.find(({ from }) => from === value)
  return `from ${formatTime(value, timeZone)}: ${period?.words ?? ''}`
}

/** Recordings of visitors of one variant with a value of a trait; null where recordings are not told apart by it. */
export function recordingsOf(sheet: ExperimentSheet, position: number, trait: Trait, value: string) {
  const days = runDays(sheet)
  const parts: SegmentText[] = [{ name: 'variant', value: `${sheet.id}.${position}` }]
  const place = (part: SegmentText | null, query: Record<string, string> = {}) => ({
    path: `/sites/${sheet.siteId}/evidence/recordings`,
    query: { ...days, segment: segmentText(part ? [...parts, part] : parts), ...query },
  })
  switch (trait) {
    case 'day':
      return place(null, { from: value, to: value })
    case 'page':
      return place(null, { page: `is:${value}` })
    case 'entry':
      return place({ name: 'landing', value })
    case 'device':
    case 'system':
    case 'browser':
    case 'source':
    case 'country':
    case 'visitor':
      return value === '' || value === 'unknown' ? null : place({ name: trait, value })
    default:
      return null
  }
}

/** Whoever has a value of a trait, as they are left out of the numbers; null where nobody can be left out by it. */
export function leftOutBy(trait: Trait, value: string, { periods }: SplitView, { timeZone, endedAt }: ExperimentSheet) {
  if (value === '') return null
  if (trait === 'day')
    return {
      kind: 'span' as const,
      from: new Date(firstMoment(value, timeZone)).toISOString(),
      until: new Date(firstMoment(dayAfter(value), timeZone)).toISOString(),
    }
  if (trait === 'period') {
    const next = periods[periods.findIndex(({ from }) => from === value) + 1]?.from
    return { kind: 'span' as const, from: value, until: next ?? endedAt ?? new Date().toISOString() }
  }
  const dimension = SEGMENT_DIMENSIONS.find((each) => each === trait)
  return dimension ? { kind: 'segment' as const, segment: { dimension, value } } : null
}
