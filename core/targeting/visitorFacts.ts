import type { FactTest } from './condition'

/** What is known of a visitor and the page that they are on. All of it may be written as JSON; what is absent is unknown. */
export interface VisitorFacts {
  /** ms since 1970 */
  now: number
  /** Time zones by their names in the tz database: the site's, and the visitor's. */
  siteTimeZone?: string
  timeZone?: string
  /** phone, tablet, desktop or other. */
  device?: string
  system?: string
  browser?: string
  /** Such as 140 or 17.4. */
  browserVersion?: string
  /** In CSS pixels. */
  screenWidth?: number
  /** As browsers say it: en-IE. */
  language?: string
  /** Two letters. */
  country?: string
  region?: string
  city?: string
  /** Of the page that is open. */
  address?: string
  adParameters?: AdParameters
  /** Of the first page of the visit, and the host that it was come from; empty for none. */
  landing?: string
  referrer?: string
  /** Which visit it is, from 1 on, and when the first one began, in ms since 1970. */
  visits?: number
  firstSeen?: number
  /** Pages that were opened before this one, and events that were sent. */
  pages?: readonly { address: string; at: number }[]
  events?: readonly { name: string; at: number }[]
  /** How often something was done or seen, where that is known without going through all of them; see `runningCounts.ts`. */
  timesDone?: (test: FactTest, now: number) => number
  /** What the page says of the visitor, of whatever type. */
  attributes?: Readonly<Record<string, unknown>>
  cookies?: Readonly<Record<string, string>>
  /** The page's own data object. */
  data?: Readonly<Record<string, unknown>>
  /** Position of the variant in each experiment that the visitor takes part in, by its number. */
  variants?: Readonly<Record<string, number>>
}

/** What a browser and its place say of a visitor, whatever is done. */
export type Circumstances = Pick<
  VisitorFacts,
  | 'device'
  | 'system'
  | 'browser'
  | 'browserVersion'
  | 'screenWidth'
  | 'language'
  | 'timeZone'
  | 'country'
  | 'region'
  | 'city'
  | 'referrer'
  | 'visits'
  | 'attributes'
>

/** Query parameters in which ads name their campaign, group and keyword; empty where they do not. */
export interface AdParameters {
  campaign: string
  group: string
  keyword: string
}

/** Facts by what can be asked of them. */
export const TEXT_FACTS = [
  ...(['device', 'system', 'browser', 'language', 'country', 'region', 'city', 'timeZone'] as const),
  ...([
    'source',
    'medium',
    'campaign',
    'term',
    'content',
    'adCampaign',
    'adGroup',
    'adKeyword',
    'parameter',
    'referrer',
    'sourceKind',
    'landing',
  ] as const),
  ...(['visitor', 'weekday', 'cookie', 'data', 'attribute'] as const),
] as const
export const NUMBER_FACTS = [
  ...(['screenWidth', 'visits', 'daysSinceFirst', 'hour', 'seen', 'did', 'date', 'data', 'attribute'] as const),
] as const
export const VERSION_FACTS = ['browserVersion', 'attribute', 'data'] as const
export const FACTS = [
  ...new Set([...TEXT_FACTS, ...NUMBER_FACTS, ...VERSION_FACTS, 'variant' as const, 'audience' as const]),
] as const
export type Fact = (typeof FACTS)[number]

/** Facts of which there are many, told apart by a name. */
export const NAMED_FACTS: readonly Fact[] = ['parameter', 'cookie', 'data', 'attribute', 'did']
export const WEEKDAYS = ['monday', 'tuesday', 'wednesday', 'thursday', 'friday', 'saturday', 'sunday'] as const
