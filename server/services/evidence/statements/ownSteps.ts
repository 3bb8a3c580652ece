import type { Pool } from 'pg'
import { UNKNOWN } from '../../../../core/evidence/selection'
import type { Dimension } from '../../../../core/evidence/visits'
import { dayAfter } from '../../../../core/time/siteDay'
import { OTHER_PARTS, readPage, readSegment, type FilterQuery } from '../../../../shared/evidence/filter'
import { metricSource } from '../metricSource'
import { LANGUAGE, SOURCE, VISITOR } from '../queries'
import type { SiteVisits } from '../siteVisits'
import { onPage, pageColumn } from '../../statements/addressRules'
import { counted } from '../../statements/countedSteps'
import { midnight, text } from '../../statements/literals'
import { STEP_NAMES, stepColumns } from '../../statements/stepColumns'

export interface Source {
  pool: Pool
  siteId: number
  site: SiteVisits
}

const COLUMNS: Record<Exclude<Dimension, 'landing'>, string> = {
  device: 'device',
  browser: 'browser',
  system: 'system',
  country: 'country',
  region: 'region',
  city: 'city',
  language: LANGUAGE,
  source: SOURCE,
  medium: 'campaign_medium',
  campaign: 'campaign',
  term: 'campaign_term',
  content: 'campaign_content',
  timeZone: 'time_zone',
  visitor: VISITOR,
}
const columnOf = (dimension: Dimension, site: SiteVisits) =>
  dimension === 'landing' ? pageColumn(site) : COLUMNS[dimension]

/** Something that must hold of a session, or must not. */
interface SessionTest {
  /** Whether a row of `steps` makes it hold. */
  step: string
  isWanted: boolean
}

/**
 * Everything that happened in the sessions that a report is about, as `own`: each step with the beginning of its session
 * (`began`), the width of its window (`width`), and what the session was at its first page.
 *
 * Sessions are told apart by windows over the steps and not by joins: how many rows a join of parts of a statement gives
 * is more than the planner can know, and where it takes many for few the statement does not end.
 */
export async function ownSteps(source: Source, filter: FilterQuery, extra: readonly Dimension[] = []): Promise<string> {
  const { siteId, site } = source
  const { timeZone } = site.basis
  const parts = (filter.segment && readSegment(filter.segment)) || []
  const dimensions = [...new Set([...parts.flatMap(({ name }) => (isOther(name) ? [] : [name])), ...extra])]
  const tests = await sessionTests(source, filter)
  const conditions = [
    `began >= ${midnight(filter.from, timeZone)}`,
    `began < ${midnight(dayAfter(filter.to), timeZone)}`,
    `NOT EXISTS (SELECT FROM visitor v WHERE v.site_id = ${siteId} AND v.id = opened.visitor_id AND v.left_out IS NOT NULL)`,
    ...parts.flatMap(({ name, value }) =>
      isOther(name) ? [] : [value === UNKNOWN ? `"${name}" IS NULL` : `"${name}" = ${text(value)}`],
    ),
    ...tests.map(({ isWanted }, index) => `${isWanted ? '' : 'NOT '}fulfils${index + 1}`),
  ]
  const named = (column: (dimension: Dimension) => string) =>
    dimensions.map((each) => `,\n    ${column(each)} AS "${each}"`).join('')
  return `steps AS (
  SELECT ${stepColumns('page_view')},
    window_width AS width${named((each) => columnOf(each, site))}
  FROM page_view WHERE site_id = ${siteId}
  UNION ALL
  SELECT ${stepColumns('event')},
    NULL${named(() => 'NULL')}
  FROM event WHERE site_id = ${siteId} AND type NOT IN ('exposure', 'drift')
), opened AS (
  SELECT ${STEP_NAMES.join(', ')},
    min(at) FILTER (WHERE kind = 'page') OVER session AS began,
    first_value(width) OVER opening AS width${named((each) => `first_value("${each}") OVER opening`)}${tests
      .map(({ step }, index) => `,\n    coalesce(bool_or(${step}) OVER session, false) AS fulfils${index + 1}`)
      .join('')}
  FROM steps
  WINDOW session AS (PARTITION BY visitor_id, session_id),
    opening AS (PARTITION BY visitor_id, session_id ORDER BY (kind <> 'page'), at, seq)
), own AS (
  SELECT ${STEP_NAMES.join(', ')}, began, width${dimensions.map((each) => `, "${each}"`).join('')}
  FROM opened WHERE ${conditions.join('\n    AND ')}
)`
}

async function sessionTests(source: Source, { segment, page }: FilterQuery): Promise<SessionTest[]> {
  const tests: SessionTest[] = []
  for (const { name, value } of (segment && readSegment(segment)) || []) {
    if (!isOther(name)) continue
    if (name === 'variant') tests.push({ step: isExposed(source.siteId, value), isWanted: true })
    else if (name === 'attribute') tests.push({ step: saysAttribute(value), isWanted: true })
    else {
      const metric = (await metricSource(source, value))!
      tests.push({ step: counted(metric, source.site), isWanted: name === 'converted' })
    }
  }
  const rule = page ? readPage(page) : null
  if (rule) tests.push({ step: `kind = 'page' AND ${onPage(rule, source.site)}`, isWanted: true })
  return tests
}

/** Whether a step came after its visitor had seen a variant; of a person, on that device. */
function isExposed(siteId: number, value: string): string {
  const [experiment, position] = value.split('.').map(Number)
  return `at >= (SELECT min(seen.at) FROM (
      SELECT x.exposed_at AS at FROM exposure x
      WHERE x.site_id = ${siteId} AND x.experiment_id = ${experiment} AND x.variant = ${position} AND x.left_out IS NULL
        AND x.visitor_id = steps.visitor_id
      UNION ALL
      SELECT e.occurred_at FROM event e
      JOIN exposure x ON x.site_id = e.site_id AND x.visitor_id = '~' || e.person_id AND x.experiment_id = e.experiment_id
      WHERE e.site_id = ${siteId} AND e.visitor_id = steps.visitor_id AND e.experiment_id = ${experiment}
        AND e.person_id IS NOT NULL AND x.variant = ${position} AND x.left_out IS NULL
    ) seen)`
}

function saysAttribute(value: string): string {
  const [of = '', ...told] = value.split('=')
  return `kind = 'page' AND EXISTS (SELECT FROM page_view p WHERE p.site_id = steps.site_id AND p.visitor_id = steps.visitor_id
      AND p.seq = steps.seq AND p.attributes->>${text(of)} = ${text(told.join('='))})`
}

function isOther(name: string): name is (typeof OTHER_PARTS)[number] {
  return OTHER_PARTS.some((each) => each === name)
}
