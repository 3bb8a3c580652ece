import { sql, type SQL } from 'drizzle-orm'
import { testsIn, type Condition } from '../../../core/targeting/condition'
import type { Past, PastView } from '../../../core/targeting/replay'
import type { Fact } from '../../../core/targeting/visitorFacts'
import { PgDialect } from 'drizzle-orm/pg-core'
import type { Database } from '../../database/connect'
import { groupBy } from '../groupBy'
import { findSite } from '../sites/sites'

type FactName = keyof PastView['facts']

/** What is read of a view beside when and where it was, by the name that conditions know it by. */
const COLUMNS = {
  visits: sql`visit`,
  referrer: sql`coalesce(referrer_host, '')`,
  device: sql`device`,
  system: sql`system`,
  browser: sql`browser`,
  browserVersion: sql`browser_version`,
  language: sql`language`,
  timeZone: sql`time_zone`,
  country: sql`country`,
  region: sql`region`,
  city: sql`city`,
  screenWidth: sql`screen_width`,
  attributes: sql`attributes`,
} satisfies Partial<Record<FactName, SQL>>
type Column = keyof typeof COLUMNS

/** Facts that are told by columns of another name. */
const TOLD_BY: Partial<Record<Fact, readonly Column[]>> = {
  visitor: ['visits'],
  sourceKind: ['referrer'],
  attribute: ['attributes'],
  weekday: ['timeZone'],
  hour: ['timeZone'],
  date: ['timeZone'],
}

/** A row as it comes: visitor, id, session, moment, address, person, and the columns that were asked for. */
type Row = [string, string, string, number, string, string | null, ...unknown[]]
const BEFORE_FACTS = 6

/**
 * What is kept of some visitors, as a condition asks for it: their views with what it looks at, and what they did.
 *
 * @param asked - the condition; what it does not ask for is not read
 * @param isTested - whether a view is one of those that are asked about
 */
export async function pastOfVisitors(
  database: Database,
  siteId: number,
  visitors: readonly string[],
  asked: Condition | null,
  isTested: (view: { at: number; address: string }) => boolean,
): Promise<Map<string, Past>> {
  const { timeZone, address: origin, adParameters } = await findSite(database, siteId)
  const { host } = new URL(origin)
  const facts = new Set(asked ? testsIn(asked).map(({ fact }) => fact) : [])
  const columns = columnsOf(facts)
  const ids = [...visitors]
  const read = [sql`extract(epoch FROM occurred_at)::float8 * 1000`, sql`address`, sql`person_id`]
  const all = sql.join([sql`visitor_id, id, session_id`, ...read, ...columns.map((name) => COLUMNS[name])], sql`, `)
  const rows = await rowsOf<Row>(
    database,
    sql`SELECT ${all} FROM page_view WHERE site_id = ${siteId} AND visitor_id = ANY(${sql.param(ids)}::text[])`,
  )
  const done = facts.has('did') ? await eventsOf(database, siteId, ids) : new Map<string, never>()
  const factsOf = sharedFacts(columns, host)
  const pasts = new Map<string, Past>()
  const viewsOf = new Map<string, PastView[]>()
  for (const row of rows) {
    // Not taken apart as a list, which would go through it once more.
    const visitor = row[0]
    let views = viewsOf.get(visitor)
    if (!views) {
      viewsOf.set(visitor, (views = []))
      pasts.set(visitor, { views, events: done.get(visitor) ?? [], siteTimeZone: timeZone, adParameters })
    }
    const at = row[3]
    const address = row[4]
    const view: PastView = {
      id: row[1],
      session: row[2],
      at,
      address,
      isTested: isTested({ at, address }),
      facts: factsOf(row),
    }
    if (row[5] !== null) view.person = row[5]
    views.push(view)
  }
  // Sorted here: by visitor they are few, and nearly in order.
  for (const views of viewsOf.values()) views.sort(byTime)
  return pasts
}

/** Of the same moment, the id that was made first. */
const byTime = (one: PastView, other: PastView) => one.at - other.at || (one.id < other.id ? -1 : 1)

function columnsOf(facts: ReadonlySet<Fact>): Column[] {
  const wanted = new Set([...facts].flatMap((fact) => TOLD_BY[fact] ?? [fact as Column]))
  return (Object.keys(COLUMNS) as Column[]).filter((name) => wanted.has(name))
}

async function eventsOf(database: Database, siteId: number, ids: string[]) {
  const rows = await rowsOf<[string, string, number]>(
    database,
    sql`SELECT visitor_id, name, extract(epoch FROM occurred_at)::float8 * 1000
      FROM event WHERE site_id = ${siteId} AND visitor_id = ANY(${sql.param(ids)}::text[])
        AND type = 'custom' AND name IS NOT NULL
      ORDER BY visitor_id, occurred_at, seq`,
  )
  const byVisitor = groupBy(rows, ([visitor]) => visitor)
  return new Map([...byVisitor].map(([visitor, own]) => [visitor, own.map(([, name, at]) => ({ name, at }))]))
}

/** What rows say of their visitors; the same object for rows that follow each other and say the same. */
function sharedFacts(columns: readonly Column[], host: string): (row: Row) => PastView['facts'] {
  let last: Row | null = null
  let facts: PastView['facts'] = {}
  const saysTheSame = (row: Row, other: Row) => {
    for (let index = BEFORE_FACTS; index < row.length; index++) if (row[index] !== other[index]) return false
    return true
  }
  return (row) => {
    if (last && saysTheSame(row, last)) return facts
    last = row
    const known = columns.flatMap((name, index): [Column, unknown][] => {
      const value = row[BEFORE_FACTS + index]
      if (value === null) return []
      return [[name, name === 'referrer' && value === host ? '' : value]]
    })
    return (facts = Object.fromEntries(known))
  }
}

/** Rows as lists: there are very many of them, and of each only some columns. */
async function rowsOf<Row extends unknown[]>(database: Database, statement: SQL): Promise<Row[]> {
  const { sql: text, params } = new PgDialect({ casing: 'snake_case' }).sqlToQuery(statement)
  return (await database.$client.query<Row>({ text, values: params, rowMode: 'array' })).rows
}
