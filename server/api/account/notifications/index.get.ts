import { defineOperation } from '~~/server/http/operation'
import { readToldChoices } from '~~/server/services/notifications/choices'

export default defineOperation('readToldChoices', ({ database, personId }) => readToldChoices(database, personId!))
