import { defineEventHandler, getQuery, setHeader } from 'h3'
import { database } from '~~/server/database/database'
import { deliveryFile } from '~~/server/routing/deliveryFile'
import { renderSurveys, surveysOfKey } from '~~/server/services/surveys/runningSurveys'

/** Access: anyone; see the operation `readRecorder`. The same for every site, but for the surveys that it asks. */
export default defineEventHandler(async (event) => {
  const { kind, key } = getQuery(event)
  setHeader(event, 'content-type', 'text/javascript; charset=utf-8')
  if (kind === 'survey') {
    const surveys = await surveysOfKey(database(), String(key ?? ''))
    setHeader(event, 'cache-control', 'public, max-age=60')
    return renderSurveys(await deliveryFile('survey.js'), surveys)
  }
  setHeader(event, 'cache-control', 'public, max-age=600')
  return deliveryFile(kind === 'recording' ? 'recording.js' : 'recorder.js')
})
