import type { CollectedEvent, CollectedView } from '../../shared/intake/collect'
import { newId, now } from './clock'
import { readStorage, storedNames, writeStorage } from './keeping'
import { jsonText } from './jsonText'
import { guarded, safely } from './safely'
import { joinSession, joinSessionNow, type Session } from './visitor'
import { DAY } from '../../core/time/units'
import { nativeDocument } from '../native'

const OLDEST = 7 * DAY
const MOST_EVENTS = 300
/** Browsers take 64 KB of requests that outlive their page, all together. */
const BATCH_BYTES = 24_000
/** Gathers what happens together into one request. */
const PAUSE = 250
const LONGEST_PAUSE = 60_000
/** What another tab has kept and not touched for so long, it will not send any more. */
const ABANDONED = 10_000
/** Names the views of the pages that this tab has shown before, which are gone for sure. */
const TAB = 'vetch_views'
const MOST_REMEMBERED = 20

export type NewEvent = Omit<CollectedEvent, 'id' | 'view'>
export type AddEvent = (event: NewEvent) => void
/** What a view says of itself but for its session, which is known only later. */
export type NewView = Omit<CollectedView, 'id' | 'session' | 'visit'>

/** A page view with its events that Vetch has not acknowledged. Kept under a name of its own: no tab writes over another. */
interface ViewRecord {
  view: Omit<CollectedView, 'session'> & { session?: string }
  events: CollectedEvent[]
  isAcknowledged: boolean
  /** As it was found in storage, for a view of another page. */
  found?: string
  /** What of it was kept last. */
  told?: string
}

interface Batch {
  records: ViewRecord[]
  events: CollectedEvent[]
}

export interface Reporter {
  /** Begins a view; events belong to it from now on. */
  enter: (describe: () => NewView) => void
  add: AddEvent
  /** Ids of the view that is open, and of its session. */
  place: () => { view: string; session: string }
  /** Stops for good, and forgets everything that was not sent. */
  stop: () => void
}

/**
 * Sends views and events to Vetch and keeps each one, in storage where there is any, until Vetch has acknowledged it.
 * What is sent twice counts once. Adding only remembers: storage and network wait until the page is shown.
 *
 * @param base - where Vetch answers
 * @param key - the site's: sites on one origin keep theirs apart
 * @param person - what is told of the person at the moment, with each event
 */
export function createReporter(base: string, key: string, person?: () => string | undefined): Reporter {
  const prefix = `vetch_q:${key}:`
  const records = new Map<string, ViewRecord>()
  const sending = new Set<string>()
  let current: ViewRecord | undefined
  let describe: (() => NewView) | undefined
  let session: Session | undefined
  let pause = PAUSE
  let flushing: ReturnType<typeof setTimeout> | undefined
  let keeping: ReturnType<typeof setTimeout> | undefined
  let isStopped = false
  let viewsOfTab: string[] = []
  const earlier = safely(() => sessionStorage.getItem(TAB))?.split(' ') ?? []

  const plan = () => void (flushing ??= setTimeout(guarded(flush), pause))
  const planKeeping = () => void (keeping ??= setTimeout(guarded(keep)))

  function enter(describeView: () => NewView): void {
    complete()
    describe = describeView
    current = { view: { id: newId() } as ViewRecord['view'], events: [], isAcknowledged: false }
    const { id } = current.view
    records.set(id, current)
    viewsOfTab = [...viewsOfTab, id].slice(-MOST_REMEMBERED)
    planKeeping()
    plan()
  }

  function add(event: NewEvent): void {
    if (!current || isStopped || current.events.length >= MOST_EVENTS) return
    const told = { id: newId(), view: current.view.id, ...event }
    current.events.push(__WITH_RULES__ ? { ...told, person: person?.() } : told)
    planKeeping()
    plan()
  }

  /** Says once and for all what the current view is: sent again, it must be the same. */
  function complete(): void {
    if (!current || !describe) return
    Object.assign(current.view, describe())
    describe = undefined
  }

  async function keep(): Promise<void> {
    keeping = undefined
    if (isStopped) return
    session ??= await joinSession()
    if (!isStopped) keepNow()
  }

  function keepNow(): void {
    clearTimeout(keeping)
    keeping = undefined
    session ??= joinSessionNow()
    complete()
    safely(() => sessionStorage.setItem(TAB, [...earlier, ...viewsOfTab].slice(-MOST_REMEMBERED).join(' ')))
    for (const record of records.values()) {
      const { view, events, isAcknowledged, found } = record
      const isDone = isAcknowledged && !events.length
      if (isDone && record !== current) records.delete(view.id)
      // A page that changes its address all the time has many: only what has changed is kept anew.
      const told = isAcknowledged + events.map(({ id }) => id).join()
      if (found || record.told === told) continue
      record.told = told
      if (!view.session) Object.assign(view, { session: session.id, visit: session.visit })
      writeStorage(prefix + view.id, isDone ? null : jsonText({ at: Date.now(), view, events, isAcknowledged }))
    }
  }

  /** Takes over what pages that are gone have left. */
  function adopt(): void {
    for (const name of storedNames(prefix)) {
      const id = name.slice(prefix.length)
      const found = records.has(id) ? null : readStorage(name)
      if (!found) continue
      const kept = safely(() => JSON.parse(found) as ViewRecord & { at: number })
      if (!kept || Date.now() - kept.at > OLDEST) writeStorage(name, null)
      else if (earlier.includes(id) || Date.now() - kept.at > ABANDONED || kept.at > Date.now())
        records.set(id, { ...kept, found })
    }
  }

  async function flush(): Promise<void> {
    clearTimeout(flushing)
    flushing = undefined
    if (isStopped) return
    await keep()
    adopt()
    const [batch] = batches()
    if (!batch || sending.size) return
    pause = (await send(batch)) ? PAUSE : Math.min(LONGEST_PAUSE, pause * 4)
    if (!isStopped && batches().length) plan()
  }

  /** Sends whatever is not under way, without waiting: the page may be about to go. */
  function flushNow(): void {
    if (isStopped) return
    keepNow()
    for (const batch of batches()) void send(batch)
  }

  /** What is to be sent, in portions that browsers and Vetch take. */
  function batches(): Batch[] {
    const all: Batch[] = []
    let size = Infinity
    for (const record of records.values()) {
      if (!record.view.session) continue
      const events = record.events.filter(({ id }) => !sending.has(id))
      const isNew = !record.isAcknowledged && !sending.has(record.view.id)
      if (!events.length && !isNew) continue
      const viewSize = jsonText(record.view).length
      let batch = all.at(-1)
      const begin = () => {
        size = 200
        all.push((batch = { records: [], events: [] }))
      }
      for (const event of [null, ...events]) {
        const eventSize = event ? jsonText(event).length : 0
        if (!batch || size + viewSize + eventSize > BATCH_BYTES) begin()
        if (!batch!.records.includes(record)) {
          batch!.records.push(record)
          size += viewSize
        }
        if (event) batch!.events.push(event)
        size += eventSize
      }
    }
    return all
  }

  /** @returns whether the batch is settled, be it that Vetch refuses it */
  async function send(batch: Batch): Promise<boolean> {
    const ids = [...batch.records.map(({ view }) => view.id), ...batch.events.map(({ id }) => id)]
    ids.forEach((id) => sending.add(id))
    const status = await post(batch).catch(() => 0)
    ids.forEach((id) => sending.delete(id))
    if (isStopped) return true
    if (status === 413) return split(batch)
    // What Vetch refuses once it will refuse again.
    const isSettled =
      (status >= 200 && status < 300) || (status >= 400 && status < 500 && status !== 429 && status !== 408)
    if (isSettled) forget(batch)
    return isSettled
  }

  async function post({ records: of, events }: Batch): Promise<number> {
    const body = jsonText({ key, sent: now(), views: of.map(({ view }) => view), events })
    const reply = await fetch(`${base}/collect`, {
      method: 'POST',
      body,
      // Outlives the page; a text goes as plain text, which needs no preflight.
      keepalive: true,
    })
    return reply.status
  }

  /** A batch that is too large goes in halves; one event that is too large alone is given up. */
  async function split({ records: of, events }: Batch): Promise<boolean> {
    if (events.length <= 1) {
      forget({ records: of, events })
      return true
    }
    const half = events.length >> 1
    for (const part of [events.slice(0, half), events.slice(half)]) {
      const views = new Set(part.map(({ view }) => view))
      if (!(await send({ records: of.filter(({ view }) => views.has(view.id)), events: part }))) return false
    }
    return true
  }

  function forget(batch: Batch): void {
    const ids = new Set(batch.events.map(({ id }) => id))
    for (const record of batch.records) {
      record.isAcknowledged = true
      record.events = record.events.filter(({ id }) => !ids.has(id))
      if (!record.found || record.events.length) continue
      const name = prefix + record.view.id
      // Whoever has touched it since sends it; twice counts once.
      if (readStorage(name) === record.found) writeStorage(name, null)
      records.delete(record.view.id)
    }
    keepNow()
  }

  const listen = (name: string, then: () => unknown) => addEventListener(name, guarded(then))
  listen('visibilitychange', () => nativeDocument.hidden && flushNow())
  listen('pagehide', flushNow)
  listen('online', () => ((pause = PAUSE), flush()))

  // What listens goes on listening, and does nothing once it is stopped.
  function stop(): void {
    isStopped = true
    clearTimeout(flushing)
    clearTimeout(keeping)
    records.clear()
    for (const name of storedNames(prefix)) writeStorage(name, null)
    safely(() => sessionStorage.removeItem(TAB))
  }
  const place = () => ({ view: current!.view.id, session: (session ??= joinSessionNow()).id })
  return { enter, add, place, stop }
}
