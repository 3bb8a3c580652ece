import { defineEventHandler, getQuery, setHeader } from 'h3'
import { deliveryFile } from '~~/server/routing/deliveryFile'

/** Access: anyone; see the operation `readRecorder`. The same for every site. */
export default defineEventHandler((event) => {
  setHeader(event, 'content-type', 'text/javascript; charset=utf-8')
  setHeader(event, 'cache-control', 'public, max-age=600')
  return deliveryFile(getQuery(event).kind === 'recording' ? 'recording.js' : 'recorder.js')
})
