import pg from 'pg'

/** The role that the processes connect as. It owns Vetch's database, and may do nothing beside it. */
export const APPLICATION_ROLE = 'vetch_application'

/** Makes the role, or gives it the password that is kept. */
export async function makeApplicationRole(admin: pg.Client, password: string): Promise<void> {
  const { rows } = await admin.query('SELECT FROM pg_roles WHERE rolname = $1', [APPLICATION_ROLE])
  const what = rows.length === 0 ? 'CREATE' : 'ALTER'
  await admin.query(
    `${what} ROLE ${APPLICATION_ROLE} LOGIN NOSUPERUSER NOCREATEDB NOCREATEROLE PASSWORD ${pg.escapeLiteral(password)}`,
  )
}

/**
 * Hands over what in a database belongs to somebody else: of databases from when the processes were superusers, or
 * those of a backup. Once all is handed over it changes nothing.
 *
 * @param adminUrl - connection to that database as a superuser
 */
export async function handOverDatabase(adminUrl: string): Promise<void> {
  const admin = new pg.Client({ connectionString: adminUrl })
  await admin.connect()
  try {
    const { rows } = await admin.query<{ change: string }>(OWNERS_TO_CHANGE, [APPLICATION_ROLE])
    await admin.query('BEGIN')
    for (const { change } of rows) await admin.query(change)
    await admin.query('COMMIT')
  } finally {
    await admin.end()
  }
}

/** Statements that give the role $1 whatever is not of the system, of an extension, or its own. What tables own goes along with them. */
const OWNERS_TO_CHANGE = `
  WITH own AS (SELECT oid, quote_ident(rolname) AS role FROM pg_roles WHERE rolname = $1), schemas AS (
    SELECT oid, quote_ident(nspname) AS name, nspowner FROM pg_namespace
    WHERE nspname !~ '^pg_' AND nspname <> 'information_schema'
  ), of_extensions AS (SELECT objid FROM pg_depend WHERE deptype = 'e'), parts AS (
    SELECT objid FROM pg_depend WHERE classid = 'pg_class'::regclass AND deptype IN ('a', 'i')
  )
  SELECT format('ALTER DATABASE %I OWNER TO %s', datname, role) AS change FROM pg_database, own
    WHERE datname = current_database() AND datdba <> own.oid
  UNION ALL
  SELECT format('ALTER SCHEMA %s OWNER TO %s', name, role) FROM schemas, own WHERE nspowner <> own.oid AND name <> 'public'
  UNION ALL
  SELECT format('ALTER %s %s OWNER TO %s', CASE relkind WHEN 'S' THEN 'SEQUENCE' WHEN 'v' THEN 'VIEW'
      WHEN 'm' THEN 'MATERIALIZED VIEW' ELSE 'TABLE' END, c.oid::regclass, role)
    FROM pg_class c JOIN schemas s ON s.oid = c.relnamespace, own
    WHERE relkind IN ('r', 'p', 'S', 'v', 'm') AND relowner <> own.oid
      AND NOT (relkind = 'S' AND c.oid IN (SELECT objid FROM parts)) AND c.oid NOT IN (SELECT objid FROM of_extensions)
  UNION ALL
  SELECT format('ALTER TYPE %s OWNER TO %s', t.oid::regtype, role)
    FROM pg_type t JOIN schemas s ON s.oid = t.typnamespace, own
    WHERE typtype IN ('e', 'd') AND typowner <> own.oid AND t.oid NOT IN (SELECT objid FROM of_extensions)
  UNION ALL
  SELECT format('ALTER ROUTINE %s OWNER TO %s', p.oid::regprocedure, role)
    FROM pg_proc p JOIN schemas s ON s.oid = p.pronamespace, own
    WHERE proowner <> own.oid AND p.oid NOT IN (SELECT objid FROM of_extensions)`
