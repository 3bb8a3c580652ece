import { defineEventHandler, getQuery, setHeader } from 'h3'
import { intakePorts } from '~~/server/intake/ports'
import type { Place } from '~~/server/intake/place'
import { answerProblem, type Problem } from '~~/server/http/answerProblem'
import { sourceAddress } from '~~/server/http/requestOrigin'

/** Access: anyone; see the operation `readPlace`. The address is looked up and forgotten. */
export default defineEventHandler(async (event): Promise<Place | Problem> => {
  setHeader(event, 'access-control-allow-origin', '*')
  setHeader(event, 'cache-control', 'no-store')
  const { findSite, findPlace } = await intakePorts()
  if (!(await findSite(String(getQuery(event).key ?? '')))) return answerProblem(event, 404, 'No site has this key.')
  return findPlace(sourceAddress(event))
})
