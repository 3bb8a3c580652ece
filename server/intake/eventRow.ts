/** One event as it is written to the table. */
export interface EventRow {
  siteId: number
  visitorId: string
  id: string
  madeAt: Date
  type: string
  occurredAt: Date
  receivedAt: Date
  sessionId: string
  address: string
  experimentId: number | null
  variant: number | null
  selectors: readonly string[] | null
  name: string | null
  amount: number | null
  currency: string | null
  properties: Record<string, unknown> | null
}

/** Columns in the order in which rows are written, with their types in SQL. */
export const EVENT_COLUMNS = [
  ['site_id', 'integer'],
  ['visitor_id', 'text'],
  ['id', 'uuid'],
  ['made_at', 'timestamptz'],
  ['type', 'text'],
  ['occurred_at', 'timestamptz'],
  ['received_at', 'timestamptz'],
  ['session_id', 'text'],
  ['address', 'text'],
  ['experiment_id', 'integer'],
  ['variant', 'smallint'],
  ['selectors', 'text[]'],
  ['name', 'text'],
  ['amount', 'numeric'],
  ['currency', 'text'],
  ['properties', 'jsonb'],
] as const

/** The values of a row as texts, in the order of `EVENT_COLUMNS`. */
export function eventValues(row: EventRow): (string | null)[] {
  return [
    String(row.siteId),
    row.visitorId,
    row.id,
    row.madeAt.toISOString(),
    row.type,
    row.occurredAt.toISOString(),
    row.receivedAt.toISOString(),
    row.sessionId,
    row.address,
    row.experimentId === null ? null : String(row.experimentId),
    row.variant === null ? null : String(row.variant),
    row.selectors === null ? null : arrayLiteral(row.selectors),
    row.name,
    row.amount === null ? null : String(row.amount),
    row.currency,
    row.properties === null ? null : JSON.stringify(row.properties),
  ]
}

function arrayLiteral(texts: readonly string[]): string {
  return `{${texts.map((text) => `"${text.replace(/["\\]/g, '\\$&')}"`).join(',')}}`
}
