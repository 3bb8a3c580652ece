import { defineEventHandler, getRouterParam, setHeader } from 'h3'
import { database } from '~~/server/database/database'
import { answerProblem } from '~~/server/http/answerProblem'
import { findSitePicture } from '~~/server/services/pictures/sitePictures'

/** Access: anyone; see the operation `readSitePicture`. */
export default defineEventHandler(async (event) => {
  const key = getRouterParam(event, 'key') ?? ''
  const file = getRouterParam(event, 'file') ?? ''
  const picture = await findSitePicture(database(), key, file)
  if (!picture) return answerProblem(event, 404, 'There is no such picture.')
  setHeader(event, 'content-type', picture.type)
  setHeader(event, 'access-control-allow-origin', '*')
  setHeader(event, 'cross-origin-resource-policy', 'cross-origin')
  setHeader(event, 'cache-control', 'public, max-age=31536000, immutable')
  return picture.content
})
