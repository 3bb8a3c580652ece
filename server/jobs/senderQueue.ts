import { useRuntimeConfig } from '#imports'
import type PgBoss from 'pg-boss'
import { openQueue } from './queue'

let opened: Promise<PgBoss> | undefined

/** The queue as the web process sends to it; opened at its first use. */
export function senderQueue(): Promise<PgBoss> {
  opened ??= openQueue(useRuntimeConfig().databaseUrl, 'sender').catch((error: unknown) => {
    opened = undefined
    throw error
  })
  return opened
}
