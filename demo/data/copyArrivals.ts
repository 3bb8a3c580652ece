import { pipeline } from 'node:stream/promises'
import { Readable } from 'node:stream'
import type { Pool } from 'pg'
import { from as copyFrom } from 'pg-copy-streams'
import { inTransaction } from '../../server/database/inTransaction'
import { SHARE_INTAKE_LOCK } from '../../server/intake/queries'
import { asText, EVENT_COLUMNS, VIEW_COLUMNS } from '../../server/intake/rows'
import type { Arrival } from '../../server/intake/writeArrivals'

/** Bytes that are sent at once. */
const PORTION = 256 * 1024
const views = VIEW_COLUMNS.filter(([field]) => field !== 'madeAt' && field !== 'offset')
const VIEW_NAMES = [...views.map(([, name]) => name), 'clock_offset', 'occurred_at']
const events = EVENT_COLUMNS.filter(([field]) => field !== 'madeAt' && field !== 'offset')
const EVENT_NAMES = [...events.map(([, name]) => name), 'session_id', 'address', 'occurred_at']

/** Views and events as COPY reads them. */
export interface CopyText {
  views: string
  events: string
}

export function copyText(arrivals: readonly Arrival[]): CopyText {
  const text: CopyText = { views: '', events: '' }
  for (const arrival of arrivals) {
    const known = new Map(arrival.views.map((view) => [view.id, view]))
    for (const view of arrival.views) {
      const at = new Date(view.madeAt + view.offset).toISOString()
      text.views += line([...views.map(([field]) => asText(view[field])), String(view.offset), at])
    }
    for (const event of arrival.events) {
      const view = known.get(event.viewId)!
      const at = new Date(event.madeAt + view.offset).toISOString()
      text.events += line([...events.map(([field]) => asText(event[field])), view.sessionId, view.address, at])
    }
  }
  return text
}

/** Writes views and events in bulk, in a transaction of its own. They must be new: nothing is checked. */
export async function copyArrivals(pool: Pool, text: CopyText): Promise<void> {
  await inTransaction(pool, async (client) => {
    await client.query(SHARE_INTAKE_LOCK)
    await copy('page_view', VIEW_NAMES, text.views)
    await copy('event', EVENT_NAMES, text.events)

    async function copy(table: string, names: readonly string[], lines: string): Promise<void> {
      if (lines === '') return
      await pipeline(
        Readable.from(portions(lines)),
        client.query(copyFrom(`COPY ${table} (${names.join(', ')}) FROM STDIN`)),
      )
    }
  })
}

function* portions(text: string): Generator<Buffer> {
  const bytes = Buffer.from(text)
  for (let start = 0; start < bytes.length; start += PORTION) yield bytes.subarray(start, start + PORTION)
}

function line(values: readonly (string | null)[]): string {
  return `${values.map(field).join('\t')}\n`
}

function field(value: string | null): string {
  if (value === null) return '\\N'
  return value.replace(
    /[\\\n\r\t]/g,
    (character) => ({ '\\': '\\\\', '\n': '\\n', '\r': '\\r', '\t': '\\t' })[character]!,
  )
}
