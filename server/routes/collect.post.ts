import { createError, defineEventHandler, getHeader, readRawBody, setHeader, setResponseHeader } from 'h3'
import { database } from '~~/server/database/database'
import { collect, RefusedBatch } from '~~/server/intake/collect'
import type { EventRow } from '~~/server/intake/eventRow'
import { groupCommit } from '~~/server/intake/groupCommit'
import { writeEvents } from '~~/server/intake/writeEvents'
import { isDatabaseAway } from '~~/server/routing/operation'
import { rememberBriefly } from '~~/server/services/rememberBriefly'
import { findIntakeSite } from '~~/server/services/sites/siteFiles'
import { noteFirstReport } from '~~/server/services/sites/sites'
import { LARGEST_BATCH } from '~~/shared/collect'

const findSite = rememberBriefly((key) => findIntakeSite(database(), key), 1000)
const write = groupCommit<EventRow>((rows) => writeEvents(database().$client, rows))

/** Access: anyone; see the operation `collect`. Origin and content are checked by intake. */
export default defineEventHandler(async (event) => {
  const origin = getHeader(event, 'origin') ?? null
  // Whether the origin may send is decided below; this only lets the page read the answer.
  if (origin) setHeader(event, 'access-control-allow-origin', origin)
  setHeader(event, 'vary', 'origin')
  setResponseHeader(event, 'cache-control', 'no-store')
  try {
    if (Number(getHeader(event, 'content-length') ?? 0) > LARGEST_BATCH)
      throw new RefusedBatch(413, `A batch holds at most ${LARGEST_BATCH} bytes.`)
    const body = (await readRawBody(event)) ?? ''
    const { site, reply } = await collect({ body, origin, receivedAt: new Date() }, findSite, write)
    if (reply.accepted > 0 && !site.hasReported) await noteFirstReport(database(), site.id)
    return reply
  } catch (error) {
    if (error instanceof RefusedBatch) throw createError({ statusCode: error.status, message: error.message })
    if (isDatabaseAway(error))
      throw createError({ statusCode: 503, message: 'The database cannot be reached; send the batch again.' })
    throw error
  }
})
