import { defineEventHandler, getHeader, getRouterParam, setHeader, setResponseStatus } from 'h3'
import { database } from '~~/server/database/database'
import { answerProblem } from '~~/server/http/answerProblem'
import { deliveryFile } from '~~/server/http/deliveryFile'
import { rememberBriefly } from '~~/server/services/rememberBriefly'
import { renderSnippet, snippetFor } from '~~/server/services/sites/renderSnippet'
import { findSiteFile } from '~~/server/services/sites/siteFiles'

/** How long a browser may go on with a site file before it asks again. */
const SECONDS = 10

const filesOf = rememberBriefly(async (key) => {
  const siteFile = await findSiteFile(database(), key)
  if (!siteFile) return null
  const built = await deliveryFile(snippetFor(siteFile))
  return { siteFile, snippet: await renderSnippet(built, siteFile) }
}, 1000)

/** Access: anyone; see the operations `readSnippet` and `readSiteFile`. */
export default defineEventHandler(async (event) => {
  const [, key, ending] = /^([\w-]{1,40})\.(js|json)$/.exec(getRouterParam(event, 'file') ?? '') ?? []
  if (!key) return answerProblem(event, 404, 'There is no such file.')
  setHeader(event, 'access-control-allow-origin', '*')
  setHeader(event, 'cache-control', `public, max-age=${SECONDS}`)
  const files = await filesOf(key)
  if (!files) return answerProblem(event, 404, 'No site has this key.')
  if (ending === 'json') return files.siteFile

  const { snippet } = files
  setHeader(event, 'etag', snippet.etag)
  setHeader(event, 'vary', 'accept-encoding')
  setHeader(event, 'content-type', 'text/javascript; charset=utf-8')
  if (getHeader(event, 'if-none-match') === snippet.etag) {
    setResponseStatus(event, 304)
    return null
  }
  if (!/\bbr\b/.test(String(getHeader(event, 'accept-encoding') ?? ''))) return snippet.plain
  setHeader(event, 'content-encoding', 'br')
  return snippet.brotli
})
