import { setTimeout as wait } from 'node:timers/promises'
import pg from 'pg'
import { useRuntimeConfig } from '#imports'
import type { News } from '../../shared/sites/news'
import { NEWS_CHANNEL } from './announce'

type Subscriber = (news: News) => void

const subscribers = new Map<number, Set<Subscriber>>()
let isListening = false

/** Passes on the news of a site until the returned function is called. */
export function subscribe(siteId: number, subscriber: Subscriber): () => void {
  const own = subscribers.get(siteId) ?? new Set()
  subscribers.set(siteId, own.add(subscriber))
  if (!isListening) void listen(useRuntimeConfig().databaseUrl)
  return () => {
    own.delete(subscriber)
    if (own.size === 0) subscribers.delete(siteId)
  }
}

/** One connection a process hears for all who subscribe; when it breaks, another takes its place. */
async function listen(databaseUrl: string): Promise<void> {
  isListening = true
  for (;;) {
    const client = new pg.Client({ connectionString: databaseUrl, application_name: 'vetch-news' })
    const ended = new Promise<void>((done) => client.on('end', done).on('error', () => done()))
    client.on('notification', ({ payload }) => pass(payload ?? ''))
    try {
      await client.connect()
      await client.query(`LISTEN ${NEWS_CHANNEL}`)
      await ended
    } catch {
      // The database is away: tried again below.
    }
    await client.end().catch(() => {})
    await wait(1000)
  }
}

function pass(payload: string): void {
  const { siteId, news } = JSON.parse(payload) as { siteId: number; news: News }
  subscribers.get(siteId)?.forEach((subscriber) => subscriber(news))
}
