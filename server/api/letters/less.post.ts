import { defineOperation } from '~~/server/http/operation'
import { hearLess } from '~~/server/services/notifications/hearLess'

export default defineOperation('hearLess', ({ event, database, body }) =>
  hearLess(database, body, useRuntimeConfig(event).sessionPassword),
)
