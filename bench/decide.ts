import { brotliCompressSync } from 'node:zlib'
import { assign, variantOf } from '../core/assignment/assignment'
import { holds, type Condition, type Group } from '../core/targeting/condition'
import { decide } from '../delivery/snippet/decide'
import { matchesPage } from '../core/targeting/pageRule'
import type { VisitorFacts } from '../core/targeting/visitorFacts'
import { whyNot } from '../core/targeting/whyNot'
import { SITE_FILE_FORMAT, type SiteFile, type SiteFileExperiment } from '../shared/delivery/siteFile'
import { medianMilliseconds, rounded, sized, type Measurement } from './measurement'
import { DAY } from '../core/time/units'

const EXPERIMENTS = sized(50, 5)
const VIEWS = sized(2000, 50)
const RUNS = sized(7, 1)

/** Twenty conditions, of which most must be looked at: the last ones decide. */
const CONDITIONS: Condition[] = [
  { fact: 'device', is: 'oneOf', texts: ['phone', 'tablet'] },
  { fact: 'country', is: 'oneOf', texts: ['GB', 'FR', 'IE'] },
  { fact: 'language', is: 'begins', texts: ['en'] },
  { fact: 'screenWidth', is: 'between', number: 320, to: 820 },
  { fact: 'visits', is: 'least', number: 2 },
  { fact: 'daysSinceFirst', is: 'most', number: 60 },
  { fact: 'browserVersion', is: 'versionLeast', texts: ['17.1'] },
  { fact: 'campaign', is: 'contains', texts: ['sail'] },
  { fact: 'medium', is: 'oneOf', texts: ['email'] },
  { fact: 'parameter', name: 'from', is: 'oneOf', texts: ['mail'] },
  { fact: 'landing', is: 'begins', texts: ['/passes'] },
  { fact: 'cookie', name: 'loyal', is: 'known' },
  { fact: 'attribute', name: 'plan', is: 'oneOf', texts: ['gold'] },
  { fact: 'attribute', name: 'seats', is: 'least', number: 2 },
  { fact: 'data', name: 'basket.total', is: 'least', number: 50 },
  { fact: 'did', name: 'order', is: 'least', number: 1, days: 28 },
  { join: 'none', of: [{ fact: 'system', is: 'oneOf', texts: ['Windows'] }] },
  { join: 'none', of: [{ fact: 'referrer', is: 'ends', texts: ['.invalid'] }] },
  { join: 'any', of: [{ fact: 'city', is: 'oneOf', texts: ['Cork'] }] },
  { fact: 'visitor', is: 'oneOf', texts: ['returning'] },
]
/** The same for each experiment, but for values of its own, so that a site file is no repetition. */
const audienceOf = (index: number): Group => ({
  join: 'all',
  of: CONDITIONS.map((each) =>
    'texts' in each && each.is === 'oneOf'
      ? { ...each, texts: [`other-${index * 7919}`, ...(each.texts ?? [])] }
      : each,
  ),
})

const NOW = Date.UTC(2026, 6, 31, 15)
const facts: VisitorFacts = {
  now: NOW,
  device: 'phone',
  system: 'iOS',
  browser: 'Safari',
  browserVersion: '17.4',
  screenWidth: 390,

  language: 'en-IE',
  country: 'IE',
  city: 'Cork',
  address: 'https://kc.test/book?from=mail',
  visits: 3,

  landing: 'https://kc.test/passes?utm_medium=email&utm_campaign=Spring%20sailings',
  referrer: 'mail.example',

  firstSeen: NOW - 10 * DAY,
  cookies: { loyal: 'yes' },
  attributes: { plan: 'Gold', seats: 4 },

  data: { basket: { total: 84.5 } },
  events: [{ name: 'order', at: NOW - 3 * DAY }],
}

/** The same twenty, as somebody would write them by hand, who reads the addresses once for each page view. */
function byHand(of: typeof facts, { searchParams, pathname }: URL, address: URL): boolean {
  const data = of.data as { basket?: { total?: number } }
  const seats = of.attributes!.seats
  const [major = 0, minor = 0] = of.browserVersion!.split('.').map(Number)
  return (
    ['phone', 'tablet'].includes(of.device!.toLowerCase()) &&
    ['gb', 'fr', 'ie'].includes(of.country!.toLowerCase()) &&
    of.language!.toLowerCase().startsWith('en') &&
    of.screenWidth! >= 320 &&
    of.screenWidth! <= 820 &&
    of.visits! >= 2 &&
    Math.floor((of.now - of.firstSeen!) / DAY) <= 60 &&
    (major > 17 || (major === 17 && minor >= 1)) &&
    (searchParams.get('utm_campaign') ?? '').toLowerCase().includes('sail') &&
    (searchParams.get('utm_medium') ?? '').toLowerCase() === 'email' &&
    address.searchParams.get('from')?.toLowerCase() === 'mail' &&
    pathname.toLowerCase().startsWith('/passes') &&
    of.cookies!.loyal !== undefined &&
    String(of.attributes!.plan).toLowerCase() === 'gold' &&
    typeof seats === 'number' &&
    seats >= 2 &&
    (data.basket?.total ?? 0) >= 50 &&
    of.events!.filter(({ name, at }) => name === 'order' && at >= of.now - 28 * DAY && at <= of.now).length >= 1 &&
    of.system!.toLowerCase() !== 'windows' &&
    !of.referrer!.toLowerCase().endsWith('.invalid') &&
    of.city!.toLowerCase() === 'cork' &&
    of.visits! > 1
  )
}

const experiments = Array.from({ length: EXPERIMENTS }, (_, index): SiteFileExperiment => ({
  kind: 'experiment',
  id: index + 1,
  salt: `salt-${index}`,
  share: 10_000,
  weights: [1, 1],
  group: null,

  pages: [{ match: 'begins', value: '/book' }],
  audience: audienceOf(index),
  edits: [[], []],
}))

/** A page view's decisions over fifty experiments of twenty conditions each, and how large their site file is. */
export async function measureDecide(): Promise<Measurement[]> {
  let taken = 0
  const own = () => {
    const address = facts.address!
    const fulfils = (audience: Group) => holds(audience, facts)
    for (let view = 0; view < VIEWS; view++)
      for (const each of experiments) {
        const visitor = `visitor-${view}`
        const at = { address, fulfils, isActive: () => true, variants: {} }
        if (whyNot(each, visitor, at) === null && variantOf(visitor, each) >= 0) taken++
      }
  }
  const hand = () => {
    for (let view = 0; view < VIEWS; view++) {
      const [landing, address] = [new URL(facts.landing!), new URL(facts.address!)]
      for (const each of experiments) {
        const isHere = matchesPage(each.pages, facts.address!) && byHand(facts, landing, address)
        if (isHere && assign(`visitor-${view}`, each) !== null) taken++
      }
    }
  }
  own()
  hand()
  if (taken !== 2 * VIEWS * EXPERIMENTS) throw new Error('The conditions do not hold as they should.')
  const inMicroseconds = (milliseconds: number) => (milliseconds * 1000) / VIEWS
  const value = inMicroseconds(await medianMilliseconds(RUNS, own))
  const reference = inMicroseconds(await medianMilliseconds(RUNS, hand))
  const siteFile: SiteFile = {
    format: SITE_FILE_FORMAT,
    version: 1,
    key: 'bench',
    asksConsent: false,
    currency: 'EUR',

    parameters: [],
    entries: experiments,
    amounts: [],
  }
  const text = JSON.stringify(siteFile)
  return [
    await measureServed(siteFile),
    {
      name: 'decide',
      value: rounded(value),
      unit: 'µs for a page view, with 50 experiments of 20 conditions that all hold',
      reference: {
        what: 'the same conditions written by hand',
        value: rounded(reference),
        ratio: rounded(value / reference),
      },
      aim: 'ratio at most 3',
    },
    {
      name: 'site-file-size',
      value: brotliCompressSync(text).length,
      unit: 'bytes brotli, with 50 experiments of 20 conditions',
      reference: {
        what: 'uncompressed',
        value: Buffer.byteLength(text),
        ratio: rounded(brotliCompressSync(text).length / Buffer.byteLength(text)),
      },
    },
  ]
}

/** Fifty personalizations of two wordings, of which the second one fits, as site files hold them. */
const served = Array.from({ length: EXPERIMENTS }, (_, index): SiteFileExperiment => {
  const wordings: Group[] = [[`DE-${index}`], ['GB', 'IE']].map((texts) => ({
    join: 'all',
    of: [{ fact: 'country', is: 'oneOf', texts }],
  }))
  return {
    ...experiments[index]!,
    id: EXPERIMENTS + index + 1,
    salt: `served-${index}`,
    weights: [500, 9500],
    audience: { join: 'any', of: wordings },
    wordings,
    edits: [[], [], []],
  }
})

/** A page view's decisions by the browser's own code, with fifty experiments and fifty personalizations. */
async function measureServed(siteFile: SiteFile): Promise<Measurement> {
  Object.assign(globalThis, { __WITH_RULES__: true })
  const whole: SiteFile = { ...siteFile, entries: [...served, ...experiments] }
  const address = facts.address!
  let taken = 0
  const own = () => {
    for (let view = 0; view < VIEWS; view++) {
      const fulfils = (audience: Group) => holds(audience, facts)
      taken += decide(whole, `visitor-${view}`, address, {
        address,
        fulfils,
        isActive: () => true,
        variants: {},
      }).length
    }
  }
  const hand = () => {
    for (let view = 0; view < VIEWS; view++) {
      const [landing, at] = [new URL(facts.landing!), new URL(address)]
      const visitor = `visitor-${view}`
      for (const [index, each] of served.entries()) {
        const country = facts.country!.toLowerCase()
        const fits = country === `de-${index}` || country === 'gb' || country === 'ie'
        if (matchesPage(each.pages, address) && fits && assign(visitor, each) !== null) taken++
      }
      for (const each of experiments)
        if (matchesPage(each.pages, address) && byHand(facts, landing, at) && assign(visitor, each) !== null) taken++
    }
  }
  own()
  hand()
  if (taken !== 4 * VIEWS * EXPERIMENTS) throw new Error('Not everything is decided as it should.')
  const inMicroseconds = (milliseconds: number) => (milliseconds * 1000) / VIEWS
  const value = inMicroseconds(await medianMilliseconds(RUNS, own))
  const reference = inMicroseconds(await medianMilliseconds(RUNS, hand))
  return {
    name: 'decide-served',
    value: rounded(value),
    unit: 'µs for a page view, with 50 experiments and 50 personalizations of two wordings',
    reference: { what: 'the same written by hand', value: rounded(reference), ratio: rounded(value / reference) },
    aim: 'ratio at most 3',
    details: { bytes: brotliCompressSync(JSON.stringify(whole)).length },
  }
}
