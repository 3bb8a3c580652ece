import { defineOperation } from '~~/server/http/operation'
import { findMeasuredSheet } from '~~/server/services/experiments/sheet'
import { explainNumber } from '~~/server/services/results/explanations/explainNumber'
import { experimentResults } from '~~/server/services/results/results'

export default defineOperation('explainNumber', async ({ database, siteId, path, query }) => {
  const sheet = await findMeasuredSheet(database, siteId, path.experiment)
  const now = new Date()
  return explainNumber(sheet, await experimentResults(database, sheet, now), query, now)
})
