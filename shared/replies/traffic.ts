import { TRAFFIC_DIMENSIONS, type DimensionValues, type TrafficTotal, type TrafficView } from '../traffic'
import { exactly, listOf, oneOf, text, whole } from './pieces'

const total = exactly<TrafficTotal>({ visitors: whole(), visits: whole(), views: whole() })

export const trafficReply = exactly<TrafficView>({
  days: listOf(
    exactly<TrafficView['days'][number]>({ day: text(), visitors: whole(), visits: whole(), views: whole() }),
  ),
  total,
  before: total,
})

export const dimensionsReply = listOf(
  exactly<DimensionValues>({ dimension: oneOf(...TRAFFIC_DIMENSIONS), values: listOf(text()) }),
)
