import { sql } from 'drizzle-orm'
import type { PreflightFinding } from '../../../core/preflight/preflight'
import type { Group } from '../../../core/targeting/condition'
import { conditionInWords, FACT_WORDS } from '../../../core/targeting/conditionWords'
import { replayVisitor, unknownFromPast, type PastView } from '../../../core/targeting/replay'
import type { Database } from '../../database/connect'
import { groupBy } from '../results/foldContext'
import { findSite } from '../sites/sites'

/** What an audience does with visitors of the last four weeks. */
export interface ReplayedAudience {
  /** Visitors of the pages who were looked at. */
  visitors: number
  /** The first view of each of them on which the audience lets them in. */
  entered: { visitor: string; at: number; view: string }[]
  /** How many of the others each of its own conditions kept out. */
  failing: number[]
}

interface Row extends Record<string, unknown> {
  visitor: string
  id: string
  session: string
  at: number
  address: string
  visits: number | null
  referrer: string | null
}

/**
 * Asks the audience of every view that the named visitors had, by the code that browsers decide with.
 *
 * @param addresses - of the tested pages
 * @param from - ms since 1970: views before are known, and let nobody in
 */
export async function replayAudience(
  database: Database,
  siteId: number,
  audience: Group,
  visitors: readonly string[],
  addresses: ReadonlySet<string>,
  from: number,
): Promise<ReplayedAudience> {
  const { timeZone, address } = await findSite(database, siteId)
  const { host } = new URL(address)
  const asked = sql.param([...visitors])
  const { rows } = await database.execute<Row>(sql`
    SELECT visitor_id AS visitor, id, session_id AS session, extract(epoch FROM occurred_at)::float8 * 1000 AS at, address,
      visit AS visits, coalesce(referrer_host, '') AS referrer, device, system, browser,
      browser_version AS "browserVersion", language, time_zone AS "timeZone", country, region, city,
      screen_width AS "screenWidth"
    FROM page_view WHERE site_id = ${siteId} AND visitor_id = ANY(${asked}::text[])
    ORDER BY visitor_id, occurred_at, seq`)
  const { rows: done } = await database.execute<{ visitor: string; name: string; at: number }>(sql`
    SELECT visitor_id AS visitor, name, extract(epoch FROM occurred_at)::float8 * 1000 AS at
    FROM event WHERE site_id = ${siteId} AND visitor_id = ANY(${asked}::text[]) AND type = 'custom' AND name IS NOT NULL
    ORDER BY visitor_id, occurred_at, seq`)
  const events = groupBy(done, ({ visitor }) => visitor)
  const replayed: ReplayedAudience = { visitors: 0, entered: [], failing: audience.of.map(() => 0) }
  for (const [visitor, own] of groupBy(rows, (row) => row.visitor)) {
    const views = own.map((row): PastView => {
      const { id, session, at, address: of, visitor: _, referrer, ...facts } = row
      const isTested = at >= from && addresses.has(of)
      return {
        id,
        session,
        at,
        address: of,
        isTested,
        facts: known({ ...facts, referrer: referrer === host ? '' : referrer }),
      }
    })
    const { entered, failing } = replayVisitor(audience, {
      ...{ views, events: events.get(visitor) ?? [], siteTimeZone: timeZone },
    })
    replayed.visitors++
    if (entered) replayed.entered.push({ visitor, at: Math.floor(entered.at), view: entered.id })
    for (const index of failing) replayed.failing[index]!++
  }
  return replayed
}

/** Without what is not known. */
function known(facts: Record<string, unknown>): PastView['facts'] {
  return Object.fromEntries(Object.entries(facts).filter(([, value]) => value !== null))
}

/** What an audience would have done, for the column beside the sheet. */
export function audienceFindings(
  audience: Group,
  { visitors, entered, failing }: ReplayedAudience,
): PreflightFinding[] {
  const say = (text: string): PreflightFinding => ({ section: 'who', isStop: false, text })
  const share = (count: number) => `${Math.round((count / Math.max(1, visitors)) * 100)} %`
  const findings: PreflightFinding[] = []
  const unknown = unknownFromPast(audience).map((fact) => FACT_WORDS[fact])
  if (unknown.length > 0)
    findings.push(
      say(`The past does not tell ${unknown.join(', ')}: the forecast takes it that nobody had any of that.`),
    )
  if (visitors === 0) return findings
  const reasons = audience.of.flatMap((each, index) =>
    failing[index]! > 0 ? [`“${conditionInWords(each)}” kept out ${share(failing[index]!)}`] : [],
  )
  const because = audience.join === 'all' && reasons.length > 0 ? ` ${reasons.join('; ')}.` : ''
  const looked = `Of ${visitors.toLocaleString('en-US')} visitors of these pages in the last four weeks`
  findings.push(
    entered.length === 0
      ? say(`${looked} the audience would have let in nobody.${because}`)
      : entered.length === visitors
        ? say(`${looked} the audience would have let in everybody: it rules nobody out.`)
        : say(`${looked} the audience would have let in ${share(entered.length)}.${because}`),
  )
  return findings
}
