import { pipeline } from 'node:stream/promises'
import { Readable } from 'node:stream'
import type { Pool } from 'pg'
import { from as copyFrom } from 'pg-copy-streams'
import { inTransaction } from '../../server/database/inTransaction'
import { SHARE_INTAKE_LOCK } from '../../server/intake/plans'
import { asText, EVENT_COLUMNS, VIEW_COLUMNS } from '../../server/intake/rows'
import type { Arrival } from '../../server/intake/writeArrivals'

type Line = (string | null)[]

const views = VIEW_COLUMNS.filter(([field]) => field !== 'madeAt' && field !== 'offset')
const VIEW_NAMES = [...views.map(([, name]) => name), 'clock_offset', 'occurred_at']
const events = EVENT_COLUMNS.filter(([field]) => field !== 'madeAt')
const EVENT_NAMES = [...events.map(([, name]) => name), 'session_id', 'address', 'occurred_at']

/** Writes views and events in bulk, in a transaction of its own. They must be new: nothing is checked. */
export async function copyArrivals(pool: Pool, arrivals: readonly Arrival[]): Promise<void> {
  const viewLines: Line[] = []
  const eventLines: Line[] = []
  for (const arrival of arrivals) {
    const known = new Map(arrival.views.map((view) => [view.id, view]))
    for (const view of arrival.views) {
      const at = new Date(view.madeAt + view.offset).toISOString()
      viewLines.push([...views.map(([field]) => asText(view[field])), String(view.offset), at])
    }
    for (const event of arrival.events) {
      const view = known.get(event.viewId)!
      const at = new Date(event.madeAt + view.offset).toISOString()
      eventLines.push([...events.map(([field]) => asText(event[field])), view.sessionId, view.address, at])
    }
  }
  await inTransaction(pool, async (client) => {
    await client.query(SHARE_INTAKE_LOCK)
    await copy('page_view', VIEW_NAMES, viewLines)
    await copy('event', EVENT_NAMES, eventLines)

    async function copy(table: string, names: readonly string[], lines: readonly Line[]): Promise<void> {
      if (lines.length === 0) return
      await pipeline(
        Readable.from(portions(lines)),
        client.query(copyFrom(`COPY ${table} (${names.join(', ')}) FROM STDIN`)),
      )
    }
  })
}

function* portions(lines: readonly Line[]): Generator<string> {
  for (let start = 0; start < lines.length; start += 500) {
    yield lines
      .slice(start, start + 500)
      .map((line) => `${line.map(field).join('\t')}\n`)
      .join('')
  }
}

function field(value: string | null): string {
  if (value === null) return '\\N'
  return value.replace(
    /[\\\n\r\t]/g,
    (character) => ({ '\\': '\\\\', '\n': '\\n', '\r': '\\r', '\t': '\\t' })[character]!,
  )
}
