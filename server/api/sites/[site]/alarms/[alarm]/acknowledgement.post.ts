import { defineOperation } from '~~/server/http/operation'
import { acknowledgeAlarm } from '~~/server/services/watch/alarms'

export default defineOperation('acknowledgeAlarm', async ({ database, siteId, path, personId, body }) => {
  await acknowledgeAlarm(database, { siteId, alarmId: path.alarm, personId }, body, new Date())
  return { acknowledged: true as const }
})
