import { randomBytes } from 'node:crypto'
import { existsSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { HumanError } from '../HumanError'

export interface Secrets {
  databasePassword: string
  sessionPassword: string
}

/** The secrets of one data folder, drawn at its first use and readable by its owner only. */
export function readSecrets(dataFolder: string): Secrets {
  const file = join(dataFolder, 'secrets.json')
  if (!existsSync(file)) {
    const secrets: Secrets = {
      databasePassword: randomBytes(24).toString('hex'),
      sessionPassword: randomBytes(32).toString('hex'),
    }
    writeFileSync(`${file}.part`, JSON.stringify(secrets), { mode: 0o600 })
    renameSync(`${file}.part`, file)
    return secrets
  }
  const parsed: unknown = JSON.parse(readFileSync(file, 'utf8'))
  if (parsed && typeof parsed === 'object' && 'databasePassword' in parsed && 'sessionPassword' in parsed) {
    return { databasePassword: String(parsed.databasePassword), sessionPassword: String(parsed.sessionPassword) }
  }
  throw new HumanError(`${file} cannot be read. Restore it from a backup; without it the database cannot be opened.`)
}
