import { spawn, type ChildProcess } from 'node:child_process'
import { resolve } from 'node:path'
import { setTimeout as wait } from 'node:timers/promises'
import { HumanError } from '../HumanError'

export interface ServerOptions {
  port: number
  databaseUrl: string
  sessionPassword: string
  demoOrigin?: string
}

/** Starts the built application and waits until it answers. */
export async function startServer({
  port,
  databaseUrl,
  sessionPassword,
  demoOrigin = '',
}: ServerOptions): Promise<ChildProcess> {
  const child = spawn(process.execPath, [resolve('.output/server/index.mjs')], {
    stdio: ['ignore', 'inherit', 'inherit'],
    env: {
      ...process.env,
      NODE_ENV: 'production',
      NITRO_HOST: '127.0.0.1',
      NITRO_PORT: String(port),
      NUXT_DATABASE_URL: databaseUrl,
      NUXT_SESSION_PASSWORD: sessionPassword,
      NUXT_DEMO_ORIGIN: demoOrigin,
      NUXT_DELIVERY_DIRECTORY: resolve('.output/delivery'),
    },
  })
  const deadline = Date.now() + 30_000
  while (Date.now() < deadline) {
    if (child.exitCode !== null) break
    const reply = await fetch(`http://127.0.0.1:${port}/api/health`).catch(() => null)
    if (reply?.ok) return child
    await wait(100)
  }
  child.kill('SIGKILL')
  throw new HumanError('The application did not start. The lines above say why.')
}
