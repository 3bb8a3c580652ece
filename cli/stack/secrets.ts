import { randomBytes } from 'node:crypto'
import { existsSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { HumanError } from '../HumanError'

export interface Secrets {
  /** Of the role that the cluster belongs to: only `./vetch` itself has it. */
  databasePassword: string
  /** Of the role that the processes connect as. */
  applicationPassword: string
  sessionPassword: string
}

/** The secrets of one data folder, drawn at its first use and readable by its owner only. */
export function readSecrets(dataFolder: string): Secrets {
  const file = join(dataFolder, 'secrets.json')
  const kept = existsSync(file) ? parseSecrets(file) : null
  const secrets: Secrets = {
    databasePassword: kept?.databasePassword ?? randomBytes(24).toString('hex'),
    // Earlier versions had none.
    applicationPassword: kept?.applicationPassword ?? randomBytes(24).toString('hex'),
    sessionPassword: kept?.sessionPassword ?? randomBytes(32).toString('hex'),
  }
  if (!kept?.applicationPassword) {
    writeFileSync(`${file}.part`, JSON.stringify(secrets), { mode: 0o600 })
    renameSync(`${file}.part`, file)
  }
  return secrets
}

function parseSecrets(file: string): Omit<Secrets, 'applicationPassword'> & Partial<Secrets> {
  const parsed: unknown = JSON.parse(readFileSync(file, 'utf8'))
  if (parsed && typeof parsed === 'object' && 'databasePassword' in parsed && 'sessionPassword' in parsed)
    return {
      databasePassword: String(parsed.databasePassword),
      applicationPassword: 'applicationPassword' in parsed ? String(parsed.applicationPassword) : undefined,
      sessionPassword: String(parsed.sessionPassword),
    }
  throw new HumanError(`${file} cannot be read. Restore it from a backup; without it the database cannot be opened.`)
}
