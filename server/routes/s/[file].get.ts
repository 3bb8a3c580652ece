import { defineEventHandler, getHeader, getRouterParam, setHeader, setResponseStatus } from 'h3'
import { database } from '~~/server/database/database'
import { answerProblem } from '~~/server/http/answerProblem'
import { deliveryFile } from '~~/server/http/deliveryFile'
import { keptByVersion } from '~~/server/services/keptByVersion'
import { rememberBriefly } from '~~/server/services/rememberBriefly'
import { renderFile, renderSnippet, snippetFor } from '~~/server/services/sites/renderSnippet'
import { findSiteFile, findSiteVersions } from '~~/server/services/sites/siteFiles'

/** How long a browser may go on with a site file before it asks again. */
const SECONDS = 10
/** How long it may decide from the one it has while it asks: nobody waits for a round trip on every page. */
const WHILE_ASKING = 3600

const filesOf = rememberBriefly(
  keptByVersion(
    async (key) => (await findSiteVersions(database(), key))?.file ?? null,
    async (key) => {
      const siteFile = await findSiteFile(database(), key)
      if (!siteFile) return null
      const built = await deliveryFile(snippetFor(siteFile))
      return {
        js: await renderSnippet(built, siteFile),
        json: await renderFile(JSON.stringify(siteFile)),
        withoutTracking: siteFile.respectsDoNotTrack ? await renderFile(await deliveryFile('reveal.js')) : null,
      }
    },
  ),
  1000,
)
const TYPES = { js: 'text/javascript; charset=utf-8', json: 'application/json' }

/** Access: anyone; see the operations `readSnippet` and `readSiteFile`. */
export default defineEventHandler(async (event) => {
  const [, key, ending] = /^([\w-]{1,40})\.(js|json)$/.exec(getRouterParam(event, 'file') ?? '') ?? []
  if (!key) return answerProblem(event, 404, 'There is no such file.')
  setHeader(event, 'access-control-allow-origin', '*')
  setHeader(event, 'cache-control', `public, max-age=${SECONDS}, stale-while-revalidate=${WHILE_ASKING}`)
  const files = await filesOf(key)
  if (!files) return answerProblem(event, 404, 'No site has this key.')
  const kind = ending === 'json' ? 'json' : 'js'
  const asksNotToBeTracked = getHeader(event, 'dnt') === '1'
  const file = (kind === 'js' && asksNotToBeTracked && files.withoutTracking) || files[kind]
  setHeader(event, 'etag', file.etag)
  setHeader(event, 'vary', 'accept-encoding, dnt')
  setHeader(event, 'content-type', TYPES[kind])
  if (getHeader(event, 'if-none-match') === file.etag) {
    setResponseStatus(event, 304)
    return null
  }
  if (!/\bbr\b/.test(getHeader(event, 'accept-encoding') ?? '')) return file.plain
  setHeader(event, 'content-encoding', 'br')
  return file.brotli
})
