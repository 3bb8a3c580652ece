import { DAY } from '../../core/time/units'
import { object, string, type InferType } from '../yup'
import { dayAfter } from '../../core/time/siteDay'
import { beginningPath, type AddressPart, type PageMatch, type PageRule } from '../../core/targeting/pageRule'
import { regexProblem } from '../../core/targeting/regexProblem'
import { DIMENSIONS, type Dimension } from '../../core/evidence/visits'

/** The longest range that is looked at. */
export const MOST_DAYS = 400
const MOST_PARTS = 8

/** What a segment may ask for beside the dimensions: what pages said, a conversion or none, a variant of an experiment. */
export const OTHER_PARTS = ['attribute', 'converted', 'unconverted', 'variant'] as const
export type PartName = Dimension | (typeof OTHER_PARTS)[number]
export interface SegmentText {
  name: PartName
  /** A value of the dimension, plan=gold, the id of a metric, or an experiment and a position such as 5.1. */
  value: string
}

const day = (which: string) =>
  string()
    .matches(/^\d{4}-\d{2}-\d{2}$/, `Type the ${which} day, such as 2026-03-01.`)
    .test('day', 'There is no such day.', (value) => value === undefined || isDay(value))
    .required(`Say the ${which} day.`)

/** Fields of every report: days of the site, both included, and perhaps a segment and pages. */
export const filterFields = {
  from: day('first'),
  to: day('last').test('order', 'The last day lies before the first.', (to, { parent }) => {
    const { from } = parent as { from?: string }
    return !to || !from || from <= to
  }),
  /** Such as device:phone,country:IE; commas and colons in values are percent-encoded. */
  segment: string()
    .max(1000, 'The segment is longer than 1,000 characters.')
    .test('segment', 'There is no such segment.', (value) => value === undefined || readSegment(value) !== null),
  /** Sessions with a view of such a page: is:/book, begins:/crossings/, or any other rule; see `readPage`. */
  page: string()
    .max(600, 'The address is longer than 600 characters.')
    .test('page', 'Write pages as is:/book, begins:/crossings/ or contains:torrin.', (value) => {
      return value === undefined || readPage(value) !== null
    }),
}

/** Every report is bounded in the days that it looks at. */
export const SPAN = ['span', `Look at most at ${MOST_DAYS} days.`, isWithinSpan] as const
function isWithinSpan({ from, to }: { from?: string; to?: string }): boolean {
  return !from || !to || daysBetween(from, to) < MOST_DAYS
}

const filterQuery = object(filterFields)
/** A filter as it travels. */
export type FilterQuery = InferType<typeof filterQuery>

export const filterSchema = filterQuery.test(...SPAN)

export function isDay(value: string): boolean {
  const at = Date.parse(value)
  return !Number.isNaN(at) && new Date(at).toISOString().startsWith(value)
}

/** Days from one to another. */
export function daysBetween(from: string, to: string): number {
  return Math.round((Date.parse(to) - Date.parse(from)) / DAY)
}

/** As many days before. */
export function rangeBefore<Filter extends FilterQuery>(filter: Filter): Filter {
  const count = daysBetween(filter.from, filter.to) + 1
  return { ...filter, from: dayAfter(filter.from, -count), to: dayAfter(filter.from, -1) }
}

/** As many days of the same weekdays, whole weeks before: what people do on a weekend is no change. */
export function sameWeekdaysBefore<Filter extends FilterQuery>(filter: Filter): Filter {
  const days = 7 * Math.ceil((daysBetween(filter.from, filter.to) + 1) / 7)
  return { ...filter, from: dayAfter(filter.from, -days), to: dayAfter(filter.to, -days) }
}

/** The parts of a segment; null for a text that is none. */
export function readSegment(text: string): SegmentText[] | null {
  const parts = text.split(',').map((part): SegmentText | null => {
    const [name = '', encoded = '', ...rest] = part.split(':')
    if (rest.length > 0 || encoded === '' || !isPartName(name)) return null
    try {
      return { name, value: decodeURIComponent(encoded) }
    } catch {
      return null
    }
  })
  return parts.length <= MOST_PARTS && parts.every((part) => part !== null) ? parts : null
}

export function segmentText(parts: readonly SegmentText[]): string {
  return parts.map(({ name, value }) => `${name}:${encodeURIComponent(value)}`).join(',')
}

function isPartName(name: string): name is PartName {
  return [...DIMENSIONS, ...OTHER_PARTS].some((each) => each === name)
}

const MATCHES: Record<string, PageMatch> = {
  is: 'exact',
  begins: 'begins',
  contains: 'contains',

  ends: 'ends',
  fits: 'wildcards',
  regex: 'regex',
  there: 'present',
}
const PARTS: readonly AddressPart[] = ['address', 'host', 'path', 'query', 'parameter', 'fragment']

/**
 * The page rule that a text stands for, or null. Before the comparison may stand what is looked at, after it what does
 * not matter: host.is:shop.example, parameter.from.is.anycase:mail, path.ends:/torrin.
 */
export function readPage(text: string): PageRule | null {
  const at = text.indexOf(':')
  const words = text.slice(0, Math.max(0, at)).split('.')
  const part = PARTS.find((each) => each === words[0])
  if (part) words.shift()
  const parameter = part === 'parameter' ? decoded(words.shift()) : null
  const match = MATCHES[words.shift() ?? '']
  const flags = new Set(words)
  const isKnown = words.every((word) => word === 'anycase' || word === 'slash') && flags.size === words.length
  if (!match || !isKnown || parameter === '') return null
  const rule: PageRule = {
    match,
    value: text.slice(at + 1),
    ...(part ? { part } : {}),
    ...(parameter === null ? {} : { parameter }),
    ...(flags.has('anycase') ? { ignoresCase: true } : {}),
    ...(flags.has('slash') ? { isStrictSlash: true } : {}),
  }
  return isWhole(rule) ? rule : null
}

function decoded(text: string | undefined): string {
  try {
    return decodeURIComponent(text ?? '')
  } catch {
    return ''
  }
}

function isWhole({ match, value, part = null }: PageRule): boolean {
  if (match === 'present') return part === 'query' || part === 'parameter' || part === 'fragment'
  if (value === '') return false
  if (match === 'regex') return regexProblem(value) === null
  const isOfPath = part === null || part === 'path'
  return !isOfPath || (match !== 'exact' && match !== 'begins') || value.startsWith('/')
}

export function pageText({ match, value, part, parameter, ignoresCase, isStrictSlash }: PageRule): string {
  const words = [
    ...(part && part !== 'page' ? [part] : []),
    ...(part === 'parameter' ? [encodeURIComponent(parameter ?? '').replaceAll('.', '%2E')] : []),
    Object.keys(MATCHES).find((name) => MATCHES[name] === match)!,
    ...(ignoresCase ? ['anycase'] : []),
    ...(isStrictSlash ? ['slash'] : []),
  ]
  return `${words.join('.')}:${value}`
}

/** A path that can be opened to look at the pages of a rule: the one that it names, or begins with. */
export function openablePath(text: string): string {
  const rule = readPage(text)
  const named = rule && (beginningPath(rule) ?? (rule.value.startsWith('/') ? rule.value.split('*')[0]! : null))
  return named ?? '/'
}

/** Id of a metric of the site. */
export const metricField = string().max(40, 'There is no such metric.')
