import { createHash } from 'node:crypto'
import { existsSync, readFileSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { buildDelivery } from '../buildDelivery'
import { buildKiosk } from '../buildKiosk'
import { alone } from './alone'
import { runVisibly } from './command'

const SOURCES = [
  'app',
  'core',
  'delivery',
  'public',
  'server',
  'shared',
  'stand-ins',
  'cli/buildDelivery.ts',
  'cli/buildKiosk.ts',
  'demo/kiosk',
  'demo/site',
  'nuxt.config.ts',
  'package.json',
  'package-lock.json',
]
const STAMP = '.output/source-hash'

/** Builds the application unless the last build was made from the same sources. Of two who want to, one waits. */
export function buildApplication(): Promise<void> {
  return alone('.vetch-build.lock', buildWhereNeeded)
}

async function buildWhereNeeded(): Promise<void> {
  const hash = sourceHash()
  if (existsSync(STAMP) && readFileSync(STAMP, 'utf8') === hash) return
  console.error('Building the application …')
  rmSync(STAMP, { force: true })
  await runVisibly(
    'npx',
    ['nuxt', 'build', '--logLevel=silent'],
    'The application could not be built. The lines above say why.',
  )
  await buildDelivery()
  await buildKiosk()
  writeFileSync(STAMP, hash)
}

function sourceHash(): string {
  const hash = createHash('sha256')
  const add = (path: string): void => {
    if (!existsSync(path)) return
    if (statSync(path).isDirectory()) {
      for (const name of readdirSync(path).sort()) add(join(path, name))
    } else if (!path.endsWith('.test.ts')) {
      hash.update(path).update(readFileSync(path))
    }
  }
  SOURCES.forEach(add)
  return hash.digest('hex')
}
