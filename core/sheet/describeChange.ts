import type { Edit } from '../edits/content'
import { editName } from '../edits/edit'
import {
  nameOf,
  thingAt,
  type Fields,
  type SheetChange,
  type SheetItem,
  type SheetList,
  type SheetPlace,
} from './change'
import type { Group } from '../targeting/condition'
import { conditionInWords } from '../targeting/conditionWords'
import type { SheetContent } from './content'
import { termsInWords, type SheetTerms } from './terms'

const FIELDS: Record<string, string> = {
  alpha: 'error level',
  audience: 'audience',
  adjustedBy: 'what it is adjusted by',
  batchVisitors: 'visitors after which the split moves',
  baseline: 'expected rate of the control',
  combinationsOff: 'combinations',
  denominator: 'what it is divided by',
  cap: 'the most that a visitor counts as',
  windowDays: 'for how long a visitor is measured',
  deviation: 'standard deviation',
  direction: 'what is better',
  factors: 'factors',
  guardrailRule: 'what guardrails ask for',
  hypothesis: 'hypothesis',
  kind: 'value',
  leastChance: 'chance below which to stop',
  pausesFor: 'what it pauses for',
  leastShare: 'least share of each variant',
  leastWeeks: 'least run in weeks',
  limit: 'limit',
  longestWeeks: 'longest run in weeks',
  lossLimit: 'accepted loss',
  match: 'comparison',
  mean: 'expected value of the control',
  metrics: 'metrics',
  name: 'name',
  original: 'original text',
  pageRules: 'addresses',
  plan: 'decision plan',
  plannedVisitors: 'planned visitors',
  role: 'role',
  rule: 'rule',
  selector: 'element',
  share: 'traffic share',
  smallestLift: 'smallest worthwhile lift',
  source: 'what is counted',
  split: 'split',
  terms: 'terms',
  value: 'text',
  variants: 'variants',
  weight: 'weight',
}
const PERCENT = new Set(['baseline', 'leastShare', 'limit', 'lossLimit', 'smallestLift'])

/** What a person calls a field of a sheet. */
export function fieldName(field: string): string {
  return FIELDS[field] ?? field
}

/**
 * A change in one line, with old and new.
 *
 * @param content - the sheet before the change: it knows the names of things
 *
 * @example describeChange(content, { do: 'set', of: { part: 'variants', id: 'b' }, from: { weight: 1 }, to: { weight: 2 } })
 * // 'Weight of the variant “Warm”: 1 became 2'
 */
export function describeChange(content: SheetContent, change: SheetChange): string {
  switch (change.do) {
    case 'set':
      if (change.of.part === 'edits') return describeEditChange(content, change.of, change.to)
      return Object.keys(change.to)
        .map((field) => describeField(content, change.of, field, change))
        .join('; ')
    case 'add':
    case 'remove':
      return `${doneTo(change)} ${named(content, change.list, change.item)}`
    case 'move': {
      const item = thingAt(content, { ...change.list, id: change.id })
      return `Moved ${item ? nameOf(content, change.list, item) : 'something that is gone'}`
    }
    case 'replace':
      return `Set ${Object.keys(change.to).map(fieldName).join(', ')} together`
  }
}

/** An edit says itself what it does; its fields say nothing alone. */
function describeEditChange(content: SheetContent, place: SheetPlace, to: Fields): string {
  const before = thingAt(content, place)
  if (!before) return 'Changed an edit that is gone'
  const [was, is] = [before, { ...before, ...to }].map((each) => editName(each as unknown as Edit))
  if ('isOff' in to) return `Switched ${to.isOff ? 'off' : 'on'} the edit: ${was}`
  if ('title' in to) return `Renamed the edit “${was}” to “${is}”`
  return was === is ? `Changed the edit: ${is}` : `Changed the edit: ${was} became: ${is}`
}

/** A combination is in the list of those that are off, or it is on. */
function doneTo({ do: what, list }: Extract<SheetChange, { do: 'add' | 'remove' }>): string {
  if (list.part === 'combinationsOff') return what === 'add' ? 'Switched off' : 'Switched on'
  return what === 'add' ? 'Added' : 'Removed'
}

function named(content: SheetContent, list: SheetList, item: SheetItem): string {
  return list.part === 'edits' ? `the edit: ${editName(item as Edit)}` : nameOf(content, list, item)
}

function describeField(
  content: SheetContent,
  place: SheetPlace,
  field: string,
  { from, to }: { from: Fields; to: Fields },
): string {
  const thing = thingAt(content, place)
  const of = place.part === 'sheet' || place.part === 'plan' || !thing ? '' : ` of ${nameOf(content, place, thing)}`
  const name = fieldName(field)
  const words = `${inWords(field, from[field])} became ${inWords(field, to[field])}`
  return `${name.charAt(0).toUpperCase()}${name.slice(1)}${of}: ${words}`
}

function inWords(field: string, value: unknown): string {
  if (value === null || value === undefined || value === '') return 'nothing'
  if (field === 'audience') return conditionInWords(value as Group)
  if (field === 'terms') return termsInWords(value as SheetTerms)
  if (field === 'share') return percent(Number(value) / 10_000)
  if (PERCENT.has(field)) return percent(Number(value))
  if (typeof value === 'object') return sourceInWords(value as Fields)
  return typeof value === 'string' && !/^(up|down|exact|begins|contains)$/.test(value)
    ? `“${value}”`
    : (WORDS[String(value)] ?? String(value))
}

const WORDS: Record<string, string> = {
  up: 'more',
  down: 'less',
  exact: '“is”',
  begins: '“begins with”',
  contains: '“contains”',
}

function percent(share: number): string {
  return `${Number((share * 100).toFixed(4))} %`
}

/** What a metric counts, in a few words. */
export function sourceInWords(source: Fields): string {
  const page = source.page as { value?: string } | null | undefined
  const where = [source.selector, source.name, page?.value].filter(Boolean).join(', ')
  const of = where === '' ? '' : ` ${where}`
  const on = where === '' ? '' : ` on ${where}`
  const kinds: Record<string, string> = {
    visit: `visits of${of}`,
    click: `clicks on${of}`,
    submit: `submissions of${of}`,
    pageAmount: `the amount at${of}`,
    event: `the event${of}`,
    engagement: `links clicked and forms sent${on}`,
    error: `errors of pages${on}`,
    timeInView: `time in view${on}`,
    visits: 'visits of the site',
    bounces: 'visits of one page',
    visitTime: 'how long visits last',
    return: `coming back within ${String(source.days)} days`,
  }
  return kinds[String(source.type)] ?? ''
}
