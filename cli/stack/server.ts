import { spawn, type ChildProcess } from 'node:child_process'
import { existsSync } from 'node:fs'
import { resolve } from 'node:path'
import { setTimeout as wait } from 'node:timers/promises'
import { HumanError } from '../HumanError'

export interface ServerOptions {
  port: number
  databaseUrl: string
  sessionPassword: string
  /** Origins on this machine that pages may be fetched from. */
  demoOrigins?: readonly string[]
  /** Where letters go out; nowhere when left out. */
  smtpUrl?: string
  /** Whether every answer is held against its schema. */
  checksReplies?: boolean
}

const COUNTRIES = 'node_modules/@ip-location-db/geo-whois-asn-country-mmdb/geo-whois-asn-country.mmdb'

/** Starts the built application and waits until it answers. */
export async function startServer(options: ServerOptions): Promise<ChildProcess> {
  const child = startApplicationProcess(options)
  const deadline = Date.now() + 30_000
  while (Date.now() < deadline) {
    if (child.exitCode !== null) break
    const reply = await fetch(`http://127.0.0.1:${options.port}/api/health`).catch(() => null)
    if (reply?.ok) return child
    await wait(50)
  }
  child.kill('SIGKILL')
  throw new HumanError('The application did not start. The lines above say why.')
}

/** Starts the built application. */
export function startApplicationProcess({
  port,
  databaseUrl,
  sessionPassword,
  demoOrigins = [],
  smtpUrl,
  checksReplies = false,
}: ServerOptions): ChildProcess {
  const isDemo = demoOrigins.length > 0
  return spawn(process.execPath, [resolve('.output/server/index.mjs')], {
    stdio: ['ignore', 'inherit', 'inherit'],
    env: {
      // What the person sets goes before what is set here.
      NUXT_PLACE_COUNTRY_FILE: existsSync(COUNTRIES) ? resolve(COUNTRIES) : '',
      // Simulated visitors say where they come from, as a proxy would.
      ...(isDemo ? { NUXT_TRUSTED_PROXIES: '127.0.0.1', NUXT_HAS_MADE_UP_PLACES: 'true' } : {}),
      ...(smtpUrl ? { NUXT_SMTP_URL: smtpUrl } : {}),
      NUXT_OWN_ORIGIN: `http://127.0.0.1:${port}`,
      ...process.env,
      NODE_ENV: 'production',
      NITRO_HOST: '127.0.0.1',
      NITRO_PORT: String(port),
      NUXT_DATABASE_URL: databaseUrl,
      NUXT_SESSION_PASSWORD: sessionPassword,
      NUXT_DEMO_ORIGINS: demoOrigins.join(','),
      NUXT_DELIVERY_DIRECTORY: resolve('.output/delivery'),
      NUXT_CHECKS_REPLIES: String(checksReplies),
    },
  })
}

/** Starts the process that works in the background: it folds what comes, and does the jobs of the queue. */
export function startWorkerProcess(
  databaseUrl: string,
  { demoOrigins = [], isQuiet = false }: { demoOrigins?: readonly string[]; isQuiet?: boolean } = {},
): ChildProcess {
  return spawn(process.execPath, [resolve('.output/worker/main.mjs')], {
    stdio: ['ignore', isQuiet ? 'ignore' : 'inherit', 'inherit'],
    env: {
      ...process.env,
      NODE_ENV: 'production',
      NUXT_DATABASE_URL: databaseUrl,
      NUXT_DEMO_ORIGINS: demoOrigins.join(','),
      NUXT_DELIVERY_DIRECTORY: resolve('.output/delivery'),
    },
  })
}
