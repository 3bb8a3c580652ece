/** All SQL that concerns one visitor as a whole. Every statement names the site; `$2` is the visitor's id. */

/** Everything that is kept of visitors by their id, each with the column that names them. */
export const TABLES = [
  ['page_view', 'visitor_id'],
  ['event', 'visitor_id'],
  ['session', 'visitor_id'],
  ['exposure', 'visitor_id'],
  ['visitor_value', 'visitor_id'],
  ['recording_chunk', 'visitor_id'],
  ['recording_note', 'visitor_id'],
  ['recording', 'visitor_id'],
  ['exclusion', 'visitor_id'],
  ['visitor', 'id'],
] as const
type Table = (typeof TABLES)[number]

export const deleteFrom = ([table, column]: Table) => `DELETE FROM ${table} WHERE site_id = $1 AND ${column} = $2`
/** Rows as documents; what a recording holds is unpacked elsewhere. */
export const rowsOf = ([table, column]: Table) =>
  `SELECT to_jsonb(t) - '{digest,content,network,site_id}'::text[] AS row FROM ${table} t WHERE t.site_id = $1 AND t.${column} = $2`

export const RECORDED =
  'SELECT session_id AS session, id, content FROM recording_chunk WHERE site_id = $1 AND visitor_id = $2 ORDER BY session_id, id'
/** What stands for the persons that the visitor was known as: their numbers are this visitor's, too. */
export const PERSONS = `
  SELECT DISTINCT '~' || person_id AS id FROM (
    SELECT person_id FROM page_view WHERE site_id = $1 AND visitor_id = $2
    UNION SELECT person_id FROM event WHERE site_id = $1 AND visitor_id = $2
  ) named WHERE person_id IS NOT NULL`

/** From now on the visitor is in nobody's numbers. */
export const LEAVE_OUT = `UPDATE visitor SET left_out = 'erased' WHERE site_id = $1 AND id = $2`
export const EXPERIMENTS = 'SELECT experiment_id AS id FROM exposure WHERE site_id = $1 AND visitor_id = $2'
/** Whoever was left out of an experiment by name stands in the log of changes. */
export const FORGET_IN_LOG = `
  UPDATE change_log
  SET before = replace(before::text, $2, 'erased')::jsonb, after = replace(after::text, $2, 'erased')::jsonb,
      words = replace(words, $2, 'erased')
  WHERE site_id = $1 AND concat(before::text, after::text, words) LIKE '%' || $2 || '%'`
/** A finding may have been made from a recording of theirs. */
export const FORGET_IN_FINDINGS = `
  UPDATE finding SET frozen = replace(frozen::text, $2, 'erased')::jsonb
  WHERE site_id = $1 AND frozen::text LIKE '%' || $2 || '%'`
/** That somebody was erased, not who: whoever holds visits in memory reads them anew. */
export const NOTE_ERASURE = 'INSERT INTO erasure (site_id, person_id) VALUES ($1, $2)'
