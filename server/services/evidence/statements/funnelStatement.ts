import type { Questions } from '../answers'
import { counted } from '../../statements/countedSteps'
import { ownSteps, type Source } from './ownSteps'

/**
 * How far sessions, or visitors, came on a way. From the last step back, each row that is a step gets the times of the
 * furthest way on from it: its own, and those of the nearest row after it that is the next step. So each step is one
 * pass over the rows.
 */
export async function funnelStatement(source: Source, question: Questions['funnel']['question']): Promise<string> {
  const { steps, isStrict, limitMinutes, isWithinSession } = question.plan
  const unit = isWithinSession ? "visitor_id || ' ' || session_id" : 'visitor_id'
  const tests = steps.map(({ source: step }, index) => `(${counted(step, source.site)}) AS is${index + 1}`)
  const isAny = steps.map((_, index) => `is${index + 1}`).join(' OR ')
  const ways = steps.slice(0, -1).map((_, index) => wayFrom(steps.length - 1 - index, steps, isStrict))
  const inTime =
    limitMinutes === null
      ? 'cardinality(way1)'
      : `(SELECT count(*) FROM unnest(way1) AS step(at) WHERE step.at <= way1[1] + ${limitMinutes * 60_000})::int`
  const times = steps.slice(1).map((_, index) => {
    const spent = `way1[${index + 2}] - way1[${index + 1}]`
    return `percentile_cont(ARRAY[0.25, 0.5, 0.75]) WITHIN GROUP (ORDER BY ${spent}) FILTER (WHERE depth >= ${index + 2}) AS time${index + 2}`
  })
  return `WITH ${await ownSteps(source, question)}, tested AS (
  SELECT ${unit} AS unit, extract(epoch FROM at)::float8 * 1000 AS ms, at, seq, kind, ${tests.join(',\n    ')}
  FROM own steps
), rows AS (
  SELECT *, row_number() OVER (PARTITION BY unit ORDER BY at, seq)::float8 AS nth
  FROM tested WHERE ${isAny}${isStrict ? " OR kind = 'page'" : ''}
), from${steps.length} AS (
  SELECT *, ARRAY[ms] AS way${steps.length} FROM rows
), ${ways.join(', ')}, best AS (
  SELECT DISTINCT ON (unit) unit, way1, depth
  FROM (SELECT unit, nth, way1, ${inTime} AS depth FROM from1 WHERE is1) tried
  ORDER BY unit, depth DESC, nth
)
SELECT ${steps.map((_, index) => `count(*) FILTER (WHERE depth >= ${index + 1})::float8 AS reached${index + 1}`).join(', ')},
  ${times.join(',\n  ')}
FROM best`
}

/** The times from each row on, were it the step of this number (from 1). The nearest row has the smallest number. */
function wayFrom(number: number, steps: Questions['funnel']['question']['plan']['steps'], isStrict: boolean): string {
  const next = number + 1
  const isBroken = isStrict && steps[number]!.source.type === 'visit'
  const broken = isBroken ? " WHEN kind = 'page' THEN ARRAY[nth]" : ''
  return `from${number} AS (
  SELECT *, ARRAY[ms] || coalesce((min(CASE WHEN is${next} THEN nth || way${next}${broken} END) OVER later)[2:], '{}') AS way${number}
  FROM from${next}
  WINDOW later AS (PARTITION BY unit ORDER BY at DESC, seq DESC ROWS BETWEEN UNBOUNDED PRECEDING AND 1 PRECEDING)
)`
}
