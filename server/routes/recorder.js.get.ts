import { defineEventHandler, getQuery, setHeader } from 'h3'
import { database } from '~~/server/database/database'
import { deliveryFile } from '~~/server/http/deliveryFile'
import { renderDrift, watchedOfKey } from '~~/server/services/drift/watchedElements'
import { renderSurveys, surveysOfKey } from '~~/server/services/surveys/runningSurveys'

/** Access: anyone; see the operation `readRecorder`. The same for every site, but for the surveys that it asks, and the elements that its
 * experiments change. */
export default defineEventHandler(async (event) => {
  const { kind, key } = getQuery(event)
  setHeader(event, 'content-type', 'text/javascript; charset=utf-8')
  if (kind === 'survey') {
    const surveys = await surveysOfKey(database(), String(key ?? ''))
    setHeader(event, 'cache-control', 'public, max-age=60')
    return renderSurveys(await deliveryFile('survey.js'), surveys)
  }
  if (kind === 'drift') {
    const watched = await watchedOfKey(database(), String(key ?? ''))
    setHeader(event, 'cache-control', 'public, max-age=60')
    return renderDrift(await deliveryFile('drift.js'), watched)
  }
  setHeader(event, 'cache-control', 'public, max-age=600')
  return deliveryFile(kind === 'recording' ? 'recording.js' : 'recorder.js')
})
