import { object, string } from './yup'

/** What visitors of a site can be told apart by, as their visit began. */
export const TRAFFIC_DIMENSIONS = ['device', 'browser', 'system', 'country', 'language'] as const
export type TrafficDimension = (typeof TRAFFIC_DIMENSIONS)[number]

/** The longest range that is looked at. */
export const MOST_DAYS = 400

const day = (which: string) =>
  string()
    .matches(/^\d{4}-\d{2}-\d{2}$/, `Type the ${which} day, such as 2026-03-01.`)
    .test('day', 'There is no such day.', (value) => value === undefined || isDay(value))
    .required(`Say the ${which} day.`)

/** Days of the site's time zone, both included, and perhaps a dimension with one of its values. */
export const rangeSchema = object({
  from: day('first'),
  to: day('last').test('order', 'The last day lies before the first.', (to, { parent }) => {
    const { from } = parent as { from?: string }
    return !to || !from || from <= to
  }),
  /** Such as device:phone. */
  segment: string()
    .max(200, 'The segment is longer than 200 characters.')
    .test('segment', 'There is no such segment.', (value) => value === undefined || readSegment(value) !== null),
}).test(
  'span',
  `Look at most at ${MOST_DAYS} days.`,
  ({ from, to }) => !from || !to || daysBetween(from, to) < MOST_DAYS,
)

function isDay(value: string): boolean {
  const at = Date.parse(value)
  return !Number.isNaN(at) && new Date(at).toISOString().startsWith(value)
}

/** Days from one to another. */
export function daysBetween(from: string, to: string): number {
  return Math.round((Date.parse(to) - Date.parse(from)) / 86_400_000)
}

/** The dimension and value of a segment as it stands in the address; null for none that there is. */
export function readSegment(text: string): { dimension: TrafficDimension; value: string } | null {
  const at = text.indexOf(':')
  const dimension = TRAFFIC_DIMENSIONS.find((each) => each === text.slice(0, at))
  const value = text.slice(at + 1)
  return dimension && value ? { dimension, value } : null
}

export interface TrafficView {
  /** Of the days with any visit. */
  days: { day: string; visitors: number; visits: number; views: number }[]
  total: TrafficTotal
  /** In as many days before. */
  before: TrafficTotal
}
export interface TrafficTotal {
  visitors: number
  visits: number
  views: number
}

/** Values of one dimension, those with the most visitors first. */
export interface DimensionValues {
  dimension: TrafficDimension
  values: string[]
}
