import { metricNameSchema, metricTrialSchema } from './metric'
import { figuresReply, metricsReply, proposalsReply, trialReply } from './replies'
import { answers, confirms, type Operation } from '../api/operation'
import { SITE } from '../sites/operations'

const METRICS_PATH = `${SITE}/metrics`

export const METRICS = {
  listMetrics: {
    method: 'get',
    path: METRICS_PATH,
    access: 'viewer',
    summary: 'Metrics of the site with their definitions, and who uses them',
    reply: answers(metricsReply),
  },
  readMetricFigures: {
    method: 'get',
    path: `${SITE}/metric-figures`,
    access: 'viewer',
    summary: 'What each metric came to in the last four weeks',
    reply: answers(figuresReply),
  },
  proposeMetrics: {
    method: 'get',
    path: `${SITE}/metric-proposals`,
    access: 'viewer',
    summary: 'Metrics that the events of the site suggest',
    reply: answers(proposalsReply),
  },
  tryMetric: {
    method: 'post',
    path: `${SITE}/metric-trial`,
    access: 'viewer',
    summary: 'What a definition counts, before it is kept',
    body: metricTrialSchema,
    reply: answers(trialReply),
  },
  renameMetric: {
    method: 'patch',
    path: `${METRICS_PATH}/{metric}`,
    access: 'editor',
    summary: 'Give a metric another name, wherever it is used',
    body: metricNameSchema,
    reply: confirms('renamed'),
  },
} as const satisfies Record<string, Operation>
