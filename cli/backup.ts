import { spawn } from 'node:child_process'
import { chmodSync, createWriteStream, existsSync, mkdtempSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { copyFile } from 'node:fs/promises'
import { basename, dirname, join } from 'node:path'
import { pipeline } from 'node:stream/promises'
import pg from 'pg'
import { version } from '../package.json'
import { helpOf } from './helpOf'
import { HumanError } from './HumanError'
import { readFileAndFolder } from './readFileAndFolder'
import { findPrograms, startCluster } from './stack/cluster'

const HELP = helpOf('backup')

/** What stands in a backup beside the database and the secrets. */
export interface AboutBackup {
  /** Counts up when an older Vetch could no longer read it. */
  format: 1
  version: string
  madeAt: string
  /** Rows of each table at that moment. */
  rows: Record<string, number>
}

/** Names of the files in a backup. */
export const PARTS = { about: 'about.json', secrets: 'secrets.json', database: 'database.dump' } as const

export async function run(args: string[]): Promise<number> {
  const named = readFileAndFolder(args, HELP, 'Name the file to write.')
  if (!named) return 0
  const { rows } = await backUp(named.dataFolder, named.file)
  const count = Object.values(rows).reduce((sum, each) => sum + each, 0)
  console.log(
    `${named.file} holds ${count.toLocaleString('en-US')} rows and the secrets. Keep it where only you can read it.`,
  )
  return 0
}

/**
 * Writes a backup. The file appears when it is whole.
 *
 * @throws HumanError where there is no database, or the file is there already
 */
export async function backUp(dataFolder: string, file: string): Promise<AboutBackup> {
  const secrets = join(dataFolder, PARTS.secrets)
  if (!existsSync(secrets))
    throw new HumanError(`There is no data of Vetch in ${dataFolder}. Name its folder with --data.`)
  if (existsSync(file)) throw new HumanError(`${file} is there already. Choose another name.`)
  if (!existsSync(dirname(file))) throw new HumanError(`There is no folder ${dirname(file)}.`)
  const programs = await findPrograms()
  const cluster = await startCluster(dataFolder)
  const parts = mkdtempSync(join(dirname(file), `.${basename(file)}-`))
  try {
    const rows = await dump(join(programs, 'pg_dump'), cluster.url, join(parts, PARTS.database))
    const about: AboutBackup = { format: 1, version, madeAt: new Date().toISOString(), rows }
    writeFileSync(join(parts, PARTS.about), JSON.stringify(about, null, 2))
    await copyFile(secrets, join(parts, PARTS.secrets))
    const whole = join(parts, 'whole.tar')
    await runProgram('tar', ['-C', parts, '-cf', whole, ...Object.values(PARTS)], {})
    chmodSync(whole, 0o600)
    renameSync(whole, file)
    return about
  } finally {
    rmSync(parts, { recursive: true, force: true })
    if (!cluster.wasRunning) cluster.stop()
  }
}

/** Dumps the database, and counts its rows, both as they are at one moment. */
async function dump(program: string, url: string, file: string): Promise<Record<string, number>> {
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  try {
    await client.query('BEGIN ISOLATION LEVEL REPEATABLE READ READ ONLY')
    const { rows: exported } = await client.query<{ snapshot: string }>('SELECT pg_export_snapshot() AS snapshot')
    // What is unlogged is forgotten by a crash, too.
    const options = ['--format=custom', '--no-unlogged-table-data', `--snapshot=${exported[0]!.snapshot}`]
    const [counts] = await Promise.all([countRows(client), runProgram(program, options, connectionOf(url), file)])
    return counts
  } finally {
    await client.end()
  }
}

/** Rows of every table, by its schema and name; of partitions, those of the whole. */
export async function countRows(client: Pick<pg.Client | pg.Pool, 'query'>): Promise<Record<string, number>> {
  const { rows } = await client.query<{ name: string }>(`
    SELECT quote_ident(n.nspname) || '.' || quote_ident(c.relname) AS name
    FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace
    WHERE c.relkind IN ('r', 'p') AND c.relpersistence = 'p' AND NOT c.relispartition
      AND n.nspname NOT IN ('pg_catalog', 'information_schema') ORDER BY 1`)
  const counts: Record<string, number> = {}
  for (const { name } of rows) {
    const counted = await client.query<{ rows: string }>(`SELECT count(*) AS rows FROM ${name}`)
    counts[name] = Number(counted.rows[0]!.rows)
  }
  return counts
}

/** How programs of PostgreSQL are told where to connect: not by their arguments, which everybody can read. */
export function connectionOf(url: string): NodeJS.ProcessEnv {
  const { hostname, port, username, password, pathname } = new URL(url)
  return {
    PGHOST: hostname,
    PGPORT: port,
    PGUSER: username,
    PGPASSWORD: decodeURIComponent(password),
    PGDATABASE: pathname.slice(1),
  }
}

/** Runs a program, perhaps with its output in a file that only its owner may read. */
export async function runProgram(
  program: string,
  args: string[],
  env: NodeJS.ProcessEnv,
  output?: string,
): Promise<void> {
  const child = spawn(program, args, { env: { ...process.env, ...env }, stdio: ['ignore', 'pipe', 'pipe'] })
  let said = ''
  child.stderr.on('data', (chunk) => (said += chunk))
  const ended = new Promise<number | null>((over, fails) => child.once('close', over).once('error', fails))
  if (output === undefined) child.stdout.resume()
  else
    await pipeline(child.stdout, createWriteStream(output, { mode: 0o600 })).catch(
      (error: Error) => (said += error.message),
    )
  const code = await ended
  if (code === 0) return
  throw new HumanError(
    /no space left|ENOSPC/i.test(said)
      ? 'The disk is full. Free some space, then run the same command again.'
      : `${basename(program)} failed:\n${said.trim().split('\n').slice(-5).join('\n')}`,
  )
}
