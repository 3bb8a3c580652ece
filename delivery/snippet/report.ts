import type { CollectedEvent } from '../../shared/collect'
import { readStorage, writeStorage } from './visitor'

const QUEUE = 'vetch_queue'
const MOST_KEPT = 200
const OLDEST = 7 * 24 * 60 * 60 * 1000
const BATCH = 50
/** Gathers what happens together into one request. */
const PAUSE = 250
const LONGEST_PAUSE = 60_000

export type NewEvent = Pick<
  CollectedEvent,
  'type' | 'experiment' | 'variant' | 'selectors' | 'name' | 'amount' | 'currency' | 'properties'
>
export type AddEvent = (event: NewEvent) => void

/**
 * Sends events to Vetch and keeps each one, in storage where there is any, until Vetch has acknowledged it.
 * What is sent twice counts once. Adding an event only remembers it: storage and network wait until the page is shown.
 */
export function createReporter(
  origin: string,
  key: string,
  visitor: string,
  readSession: () => string,
): { add: AddEvent } {
  let waiting: CollectedEvent[] = []
  let session = ''
  let isSending = false
  let pause = PAUSE
  let sending: ReturnType<typeof setTimeout> | undefined
  let keeping: ReturnType<typeof setTimeout> | undefined

  const add: AddEvent = (event) => {
    waiting.push({ id: uuid(), at: Date.now(), address: location.href.slice(0, 2000), ...event })
    keeping ??= setTimeout(keep)
    plan()
  }

  function plan(): void {
    sending ??= setTimeout(send, pause)
  }

  /** Brings memory and storage together; other pages of the site, in other tabs, keep their events in the same place. */
  function keep(): void {
    keeping = undefined
    session ||= readSession()
    const known = new Set(waiting.map((event) => event.id))
    waiting = [...restore().filter((event) => !known.has(event.id)), ...waiting].slice(-MOST_KEPT)
    writeStorage(QUEUE, JSON.stringify(waiting))
  }

  async function send(): Promise<void> {
    clearTimeout(sending)
    sending = undefined
    keep()
    if (isSending || waiting.length === 0) return
    isSending = true
    const batch = waiting.slice(0, BATCH)
    const isSettled = await post(batch).catch(() => false)
    if (isSettled) forget(batch)
    pause = isSettled ? PAUSE : Math.min(LONGEST_PAUSE, pause * 4)
    isSending = false
    if (waiting.length > 0) plan()
  }

  async function post(batch: readonly CollectedEvent[]): Promise<boolean> {
    const reply = await fetch(`${origin}/collect`, {
      method: 'POST',
      body: JSON.stringify({ key, visitor, session, sent: Date.now(), events: batch }),
      // Outlives the page; as plain text it needs no preflight.
      keepalive: true,
      headers: { 'content-type': 'text/plain;charset=UTF-8' },
      credentials: 'omit',
    })
    // What Vetch refuses once it will refuse again.
    return reply.ok || (reply.status >= 400 && reply.status < 500 && reply.status !== 429)
  }

  function forget(batch: readonly CollectedEvent[]): void {
    const sent = new Set(batch.map((event) => event.id))
    waiting = waiting.filter((event) => !sent.has(event.id))
    writeStorage(QUEUE, JSON.stringify(restore().filter((event) => !sent.has(event.id))))
  }

  // The page may go away at any time; what is sent then and never acknowledged is sent again by the next page.
  addEventListener('visibilitychange', () => {
    if (document.visibilityState === 'hidden') void send()
  })
  addEventListener('pagehide', () => void send())
  addEventListener('online', () => void send())
  return { add }
}

function restore(): CollectedEvent[] {
  try {
    const kept: unknown = JSON.parse(readStorage(QUEUE) ?? '[]')
    return Array.isArray(kept) ? kept.filter((event) => Date.now() - event.at < OLDEST) : []
  } catch {
    return []
  }
}

/** `crypto.randomUUID` is missing on pages without TLS. */
function uuid(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16))
  bytes[6] = (bytes[6]! & 0x0f) | 0x40
  bytes[8] = (bytes[8]! & 0x3f) | 0x80
  const hex = [...bytes].map((byte) => byte.toString(16).padStart(2, '0')).join('')
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-${hex.slice(12, 16)}-${hex.slice(16, 20)}-${hex.slice(20)}`
}
