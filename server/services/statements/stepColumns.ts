/** What a step is told by, in views and in events. */
const STEP_COLUMNS = [
  ['site_id', 'site_id', 'site_id'],
  ['visitor_id', 'visitor_id', 'visitor_id'],
  ['session_id', 'session_id', 'session_id'],
  ['at', 'occurred_at', 'occurred_at'],
  ['seq', 'seq', 'seq'],
  ['kind', "'page'", 'type'],
  ['address', 'address', 'address'],
  ['element', 'NULL', 'element'],
  ['name', 'NULL', 'name'],
  ['label', 'NULL', 'label'],
  ['amount', 'NULL::numeric', 'amount'],
  ['currency', 'NULL', 'currency'],
  ['once', 'NULL', 'once'],
  ['properties', 'NULL::jsonb', 'properties'],
  ['details', 'NULL::jsonb', 'details'],
] as const

export const STEP_NAMES = STEP_COLUMNS.map(([name]) => name)

/** Names of a step's columns, as they are read from a table. */
export function stepColumns(table: 'page_view' | 'event'): string {
  return STEP_COLUMNS.map(([name, ofView, ofEvent]) => `${table === 'page_view' ? ofView : ofEvent} AS ${name}`).join(
    ', ',
  )
}
