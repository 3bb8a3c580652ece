import { setTimeout as wait } from 'node:timers/promises'
import { isInTest } from '../../core/assignment/assignment'
import { variantByBuckets } from '../../core/targeting/whyNot'
import { matchesPage } from '../../core/targeting/pageRule'
import type { SiteFile } from '../../shared/delivery/siteFile'
import { behaviorOn } from './behavior'
import { collectedPage } from './collected'
import type { Met } from './journey'
import type { Population } from './population'
import { createRandom, type Random } from './random'
import { drawVisitor, type Visitor } from './visitor'

export interface SendingOptions {
  vetch: string
  site: string
  key: string
  population: Population
  /** New visitors a second. */
  rate: number
  seed: number
}

export interface Sent {
  visitors: number
  events: number
  failures: number
}

/** A page is left after this time, so that one watches a booking happen without waiting for it. */
const PAGE_MILLISECONDS = 400
const SITE_FILE_SECONDS = 5
const RETURNING = 0.15
const MOST_REMEMBERED = 500

/** Sends simulated visitors through HTTP, deciding from the live site file as the snippet does. */
export async function sendVisitors(
  options: SendingOptions,
  signal: AbortSignal,
  report: (line: string) => void,
): Promise<Sent> {
  const { vetch, key, population, rate, seed } = options
  const random = createRandom(seed)
  const sent: Sent = { visitors: 0, events: 0, failures: 0 }
  const known: Visitor[] = []
  let siteFile: SiteFile | null = null
  let readAt = 0
  const underWay = new Set<Promise<void>>()

  while (!signal.aborted) {
    if (Date.now() - readAt > SITE_FILE_SECONDS * 1000) {
      siteFile = await fetch(`${vetch}/s/${key}.json`, { signal: AbortSignal.timeout(5000) }).then(
        (reply) => reply.json() as Promise<SiteFile>,
        () => siteFile,
      )
      readAt = Date.now()
    }
    const visitor =
      known.length > 20 && random.chance(RETURNING)
        ? known[Math.floor(random.uniform() * known.length)]!
        : drawVisitor(random, population.crowd)
    known.push(visitor)
    if (known.length > MOST_REMEMBERED) known.shift()
    sent.visitors++
    const session = visit(options, random, visitor, siteFile, sent).finally(() => underWay.delete(session))
    underWay.add(session)
    report(`${sent.visitors} visitors, ${sent.events} events acknowledged, ${sent.failures} requests failed`)
    await wait((-Math.log(1 - random.uniform()) / rate) * 1000, null, { signal }).catch(() => {})
  }
  await Promise.all(underWay)
  return sent
}

async function visit(
  options: SendingOptions,
  random: Random,
  visitor: Visitor,
  siteFile: SiteFile | null,
  sent: Sent,
): Promise<void> {
  const { vetch, site, key, population } = options
  const meet = (path: string): Met[] =>
    (siteFile?.entries ?? [])
      .filter((each) => each.kind === 'experiment')
      .filter((each) => matchesPage(each.pages, `${site}${path}`))
      .map((each) => ({ experiment: each.id, salt: each.salt, variant: variantByBuckets(visitor.id, each) }))
      .filter((each): each is Met => each.variant !== null)
  const session = { id: random.id(12), visit: 1 }
  const isTold = (siteFile?.entries ?? []).some((each) => each.kind === 'behavior' && isInTest(visitor.id, each))
  for (const page of population.journey(random, visitor, meet)) {
    const opened = Date.now()
    if (isTold) page.events.push(...behaviorOn(random, page, visitor))
    // Everything on the page happens at once: the next one is opened a moment later.
    const quick = {
      ...page,
      events: page.events.map((event, index) => ({ ...event, after: Math.min(event.after, index) })),
    }
    const { view, events } = collectedPage(random, quick, visitor, session, new URL(site).origin, opened)
    const reply = await fetch(`${vetch}/collect`, {
      method: 'POST',
      body: JSON.stringify({ key, sent: opened + events.length, views: [view], events }),
      headers: {
        'content-type': 'text/plain;charset=UTF-8',
        origin: new URL(site).origin,
        'user-agent': visitor.userAgent,
        'x-forwarded-for': visitor.address,
      },
    }).catch(() => null)
    if (reply?.ok) sent.events += 1 + events.length
    else sent.failures++
    await wait(PAGE_MILLISECONDS)
  }
}
