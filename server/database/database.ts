import { useRuntimeConfig } from '#imports'
import { connect, type Database } from './connect'

let opened: Database | undefined

/** The database of this process. */
export function database(): Database {
  opened ??= connect(useRuntimeConfig().databaseUrl, 16)
  return opened
}
