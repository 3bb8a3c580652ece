import { defineOperation } from '~~/server/http/operation'
import { changeToldChoices } from '~~/server/services/notifications/choices'

export default defineOperation('changeToldChoices', ({ database, personId, body }) =>
  changeToldChoices(database, personId!, body),
)
