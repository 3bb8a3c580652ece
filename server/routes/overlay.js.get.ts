import { useRuntimeConfig } from '#imports'
import { defineEventHandler, getQuery, setHeader } from 'h3'
import { database } from '~~/server/database/database'
import { answerProblem } from '~~/server/http/answerProblem'
import { deliveryFile } from '~~/server/http/deliveryFile'
import { isMemberBySession } from '~~/server/services/accounts/sessions'
import { sessionOfPointing } from '~~/server/services/experiments/pointing'
import { shownOnDevice } from '~~/server/services/experiments/pinnedDevices'
import { shownInPanel } from '~~/server/services/experiments/panel'
import { shownByPreview } from '~~/server/services/experiments/previews'
import { PANEL_PLACE } from '~~/shared/delivery/panel'
import { PREVIEW_PLACE } from '~~/shared/delivery/preview'

/**
 * Access: anyone with a valid token, of somebody who is still signed in, a preview or a pinned device; see the operation
 * `readOverlay`. What a preview or the panel has to show is written into it.
 */
export default defineEventHandler(async (event) => {
  const { key, token } = getQuery(event)
  const { sessionPassword } = useRuntimeConfig(event)
  const now = new Date()
  const asked = [database(), String(key), String(token), sessionPassword, now] as const
  const preview = (await shownByPreview(...asked)) ?? (await shownOnDevice(...asked))
  setHeader(event, 'cache-control', 'no-store')
  const panel = await shownInPanel(...asked)
  if (panel) {
    setHeader(event, 'content-type', 'text/javascript; charset=utf-8')
    return (await deliveryFile('panel.js')).replace(PANEL_PLACE, () => JSON.stringify(panel === 'ended' ? null : panel))
  }
  if (!preview) {
    const session = sessionOfPointing(String(key), String(token), sessionPassword, now.getTime())
    if (session === null || !(await isMemberBySession(database(), session, String(key))))
      return answerProblem(event, 403, 'This pointing session has run out. Open the page from the sheet again.')
  }
  setHeader(event, 'content-type', 'text/javascript; charset=utf-8')
  if (!preview) return deliveryFile('overlay.js')
  const shown = JSON.stringify(preview === 'ended' ? null : preview)
  return (await deliveryFile('preview.js')).replace(PREVIEW_PLACE, () => shown)
})
