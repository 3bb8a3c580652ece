/** All SQL that concerns one visitor or person as a whole. Every statement names the site. */

/** Everything that is kept of visitors by their id, each with the column that names them. */
export const TABLES = [
  ['page_view', 'visitor_id'],
  ['event', 'visitor_id'],
  ['session', 'visitor_id'],
  ['person_session', 'visitor_id'],
  ['exposure', 'visitor_id'],
  ['visitor_value', 'visitor_id'],
  ['recording_chunk', 'visitor_id'],
  ['recording_note', 'visitor_id'],
  ['recording', 'visitor_id'],
  ['answer_tag', 'visitor_id'],
  ['exclusion', 'visitor_id'],
  ['visitor', 'id'],
] as const
/** What is kept of persons by theirs, beside their numbers, which are kept as a visitor's are. */
export const PERSON_TABLES = [
  ['page_view', 'person_id'],
  ['event', 'person_id'],
  ['person_session', 'person_id'],
] as const
type Table = (typeof TABLES)[number] | (typeof PERSON_TABLES)[number]

/** `$2` is the id. */
export const deleteFrom = ([table, column]: Table) => `DELETE FROM ${table} WHERE site_id = $1 AND ${column} = $2`
/** Rows as documents; what a recording holds is unpacked elsewhere. */
export const rowsOf = ([table, column]: Table) =>
  `SELECT to_jsonb(t) - '{digest,content,network,site_id}'::text[] AS row FROM ${table} t WHERE t.site_id = $1 AND t.${column} = $2`

export const RECORDED =
  'SELECT session_id AS session, id FROM recording_chunk WHERE site_id = $1 AND visitor_id = $2 ORDER BY session_id, id'
export const RECORDED_CHUNK =
  'SELECT content FROM recording_chunk WHERE site_id = $1 AND visitor_id = $2 AND session_id = $3 AND id = $4'

/** Who was named where: by pages that began, and by what was done after somebody was named. */
const NAMED = (condition: string) => `
  SELECT person_id, visitor_id, views, started_at AS first, ended_at AS last FROM person_session WHERE site_id = $1 AND ${condition}
  UNION ALL
  SELECT person_id, visitor_id, 0, occurred_at, occurred_at FROM event WHERE site_id = $1 AND ${condition} AND person_id IS NOT NULL`

/** Persons that a visitor was known as. */
export const PERSONS_OF_VISITOR = `SELECT DISTINCT person_id AS person FROM (${NAMED('visitor_id = $2')}) named`
export const VISITORS_OF_PERSON = `
  SELECT visitor_id AS visitor, sum(views)::int AS views, min(first) AS "firstSeenAt", max(last) AS "lastSeenAt",
    (SELECT count(DISTINCT person_id)::int FROM (${NAMED('visitor_id = own.visitor_id AND person_id <> $2')}) others) AS "otherPersons"
  FROM (${NAMED('person_id = $2')}) own GROUP BY visitor_id ORDER BY 4 DESC`

/** From now on the visitor is in nobody's numbers. */
export const LEAVE_OUT = `UPDATE visitor SET left_out = 'erased' WHERE site_id = $1 AND id = $2`
export const EXPERIMENTS = 'SELECT experiment_id AS id FROM exposure WHERE site_id = $1 AND visitor_id = $2'

/** Whoever was left out of an experiment by name stands in the log of changes, and nowhere else in it. */
export const FORGET_IN_LOG = `
  UPDATE change_log
  SET before = CASE WHEN before->>'visitorId' = $2 THEN jsonb_set(before, '{visitorId}', '"erased"') ELSE before END,
      after = CASE WHEN after->>'visitor' = $2 THEN jsonb_set(after, '{visitor}', '"erased"') ELSE after END
  WHERE site_id = $1 AND (before->>'visitorId' = $2 OR after->>'visitor' = $2)`

/** Findings that keep a view, with what it is of. */
export const FROZEN = 'SELECT id, frozen FROM finding WHERE site_id = $1 AND frozen IS NOT NULL'
export const SAVE_FROZEN = 'UPDATE finding SET frozen = $3 WHERE site_id = $1 AND id = $2'
/** What a visitor's browser has called things. */
export const WORDS_OF_VISITOR = `
  SELECT DISTINCT unnest(ARRAY[name, label, element, address]) AS word FROM event WHERE site_id = $1 AND visitor_id = $2
  UNION SELECT DISTINCT address FROM page_view WHERE site_id = $1 AND visitor_id = $2`
/** Of some words those that nobody else's browser has told. */
export const WORDS_OF_NOBODY_ELSE = `
  SELECT word FROM unnest($3::text[]) word
  WHERE NOT EXISTS (SELECT FROM event e WHERE e.site_id = $1 AND e.visitor_id <> $2
      AND (e.name = word OR e.label = word OR e.element = word OR e.address = word))
    AND NOT EXISTS (SELECT FROM page_view v WHERE v.site_id = $1 AND v.visitor_id <> $2 AND v.address = word)`

/** That somebody was erased, not who: whoever holds visits in memory reads them anew. */
export const NOTE_ERASURE = 'INSERT INTO erasure (site_id, person_id) VALUES ($1, $2)'

/** Of crowds that were left out. */
export const FORGET_IN_EXCLUSIONS = `
  UPDATE exclusion SET visitor_ids = array_remove(visitor_ids, $2) WHERE site_id = $1 AND $2 = ANY(visitor_ids)`
