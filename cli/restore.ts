import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs'
import { join } from 'node:path'
import pg from 'pg'
import { number, object, string } from '../shared/yup'
import { helpOf } from './helpOf'
import { connectionOf, countRows, PARTS, runProgram, type AboutBackup } from './backup'
import { HumanError } from './HumanError'
import { readFileAndFolder } from './readFileAndFolder'
import { findPrograms, startCluster, type Cluster } from './stack/cluster'

const HELP = helpOf('restore')
const FORMAT = 1
/** Stands in the folder until everything is there. */
const UNFINISHED = 'restore-unfinished'

export async function run(args: string[]): Promise<number> {
  const named = readFileAndFolder(args, HELP, 'Name the backup to restore.')
  if (!named) return 0
  const { madeAt, version } = await restore(named.file, named.dataFolder)
  console.log(
    `${named.dataFolder} is as it was on ${madeAt} (Vetch ${version}). Start it with: ./vetch start --data ${named.dataFolder}`,
  )
  return 0
}

/** @throws HumanError for a folder whose restore was broken off */
export function refuseHalfRestored(dataFolder: string): void {
  if (existsSync(join(dataFolder, UNFINISHED)))
    throw new HumanError(
      `The restore into ${dataFolder} was broken off. Delete the folder, and restore the backup once more.`,
    )
}

/**
 * Makes a data folder from a backup, and compares the rows of each table with those that were counted for it.
 *
 * @throws HumanError for a file that is no backup, or a folder with something in it
 */
export async function restore(file: string, dataFolder: string): Promise<AboutBackup> {
  if (!existsSync(file)) throw new HumanError(`There is no file ${file}.`)
  if (existsSync(dataFolder) && readdirSync(dataFolder).length > 0)
    throw new HumanError(`${dataFolder} is not empty. Choose another folder with --data.`)
  const programs = await findPrograms()
  mkdirSync(dataFolder, { recursive: true })
  writeFileSync(join(dataFolder, UNFINISHED), file)
  const parts = mkdtempSync(join(dataFolder, '.backup-'))
  const about = await unpack(file, parts).catch((error: unknown) => {
    // Nothing has been made of it yet.
    rmSync(dataFolder, { recursive: true, force: true })
    throw error
  })
  renameSync(join(parts, PARTS.secrets), join(dataFolder, PARTS.secrets))
  const cluster = await startCluster(dataFolder)
  try {
    await refuseOtherData(cluster)
    const options = ['--no-owner', '--exit-on-error', `--dbname=${new URL(cluster.url).pathname.slice(1)}`]
    await runProgram(join(programs, 'pg_restore'), [...options, join(parts, PARTS.database)], connectionOf(cluster.url))
    await compareRows(cluster.url, about)
  } finally {
    cluster.stop()
  }
  rmSync(parts, { recursive: true, force: true })
  rmSync(join(dataFolder, UNFINISHED))
  return about
}

const aboutSchema = object({
  format: number().required(),
  version: string().required(),
  madeAt: string().required(),
  rows: object().required(),
})

/** @throws HumanError for a file that is no backup, or one that this version cannot read */
async function unpack(file: string, folder: string): Promise<AboutBackup> {
  let about
  try {
    await runProgram('tar', ['-C', folder, '-xf', file, ...Object.values(PARTS)], {})
    about = aboutSchema.validateSync(JSON.parse(readFileSync(join(folder, PARTS.about), 'utf8')))
  } catch {
    throw new HumanError(`${file} is no backup of Vetch, or is damaged.`)
  }
  if (about.format !== FORMAT)
    throw new HumanError('This backup was made by a newer Vetch. Restore it with that version.')
  return about as AboutBackup
}

/** Where the database's user may not enter the folder, the database of one that was deleted may still be there. */
async function refuseOtherData({ url, folder }: Cluster): Promise<void> {
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  try {
    if (Object.keys(await countRows(client)).length === 0) return
    throw new HumanError(`There is a database in ${folder} already. Delete that folder, or choose another with --data.`)
  } finally {
    await client.end()
  }
}

async function compareRows(url: string, { rows }: AboutBackup): Promise<void> {
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  try {
    const restored = await countRows(client)
    const different = Object.keys(rows).filter((name) => restored[name] !== rows[name])
    if (different.length === 0) return
    const [name] = different
    throw new HumanError(`The backup is damaged: ${name} has ${restored[name!] ?? 0} rows in place of ${rows[name!]}.`)
  } finally {
    await client.end()
  }
}
