import { setTimeout as wait } from 'node:timers/promises'
import { assign } from '../../core/assignment/assignment'
import { matchesPage } from '../../core/targeting/pageRule'
import type { SiteFile } from '../../shared/siteFile'
import { drawVisitor, simulateSession, type Met, type PageVisit, type Visitor } from './journey'
import { createRandom, type Random } from './random'

export interface SendingOptions {
  vetch: string
  site: string
  key: string
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
  const { vetch, key, rate, seed } = options
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
        : drawVisitor(random)
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
  const { vetch, site, key } = options
  const meet = (path: string): Met[] =>
    (siteFile?.experiments ?? [])
      .filter((each) => matchesPage(each.pages, `${site}${path}`))
      .map((each) => ({ experiment: each.id, salt: each.salt, variant: assign(visitor.id, each) }))
      .filter((each): each is Met => each.variant !== null)
  const session = random.id(12)
  const pages = simulateSession(random, visitor, meet)
  for (const page of pages) {
    const batch = { key, visitor: visitor.id, session, sent: Date.now(), events: toEvents(random, page, site) }
    const reply = await fetch(`${vetch}/collect`, {
      method: 'POST',
      body: JSON.stringify(batch),
      headers: { 'content-type': 'text/plain;charset=UTF-8', origin: new URL(site).origin },
    }).catch(() => null)
    if (reply?.ok) sent.events += batch.events.length
    else sent.failures++
    await wait(PAGE_MILLISECONDS)
  }
}

function toEvents(random: Random, page: PageVisit, site: string) {
  const opened = Date.now()
  return page.events.map(({ after, ...event }, index) => ({
    ...event,
    id: random.uuid(),
    at: opened + Math.min(index, after),
    address: `${site}${page.path}`,
  }))
}
