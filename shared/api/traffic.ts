import { rangeSchema, type DimensionValues, type TrafficView } from '../traffic'
import { dimensionsReply, trafficReply } from '../replies/traffic'
import { answers, type Operation } from './operation'
import { SITE } from './sites'

export const TRAFFIC = {
  readTraffic: {
    method: 'get',
    path: `${SITE}/traffic`,
    access: 'viewer',
    summary: 'Visitors, visits and views by day, with the totals of as many days before',
    query: rangeSchema,
    reply: answers<TrafficView>(trafficReply),
  },
  readDimensions: {
    method: 'get',
    path: `${SITE}/dimensions`,
    access: 'viewer',
    summary: 'What visitors of the last four weeks can be told apart by',
    reply: answers<DimensionValues[]>(dimensionsReply),
  },
} as const satisfies Record<string, Operation>
