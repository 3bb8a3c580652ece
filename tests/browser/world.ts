import type { Server } from 'node:http'
import { test as base } from '@playwright/test'
import { freePort } from '../../cli/stack/ports'
import { createDemoSite, type DemoSiteOptions } from '../../demo/site/server'
import { startTemporaryStack, type TemporaryStack } from '../../cli/stack/temporaryStack'

/** Vetch on an empty database, and a demo site that can be served with any script line. */
export interface World extends TemporaryStack {
  demoOrigin: string
  /** Where webhooks may lead on this machine. */
  receiverPort: number
  serveDemo: (options: DemoSiteOptions) => Promise<void>
  /** Serves other pages in the place of the demo site. */
  serve: (site: Server) => Promise<void>
}

export const test = base.extend<object, { world: World }>({
  world: [
    async ({}, use) => {
      const demoPort = await freePort()
      const demoOrigin = `http://127.0.0.1:${demoPort}`
      // All visitors of these tests come from one address; that one brings only so many is tested elsewhere.
      process.env.NUXT_NEW_VISITORS_A_SECOND ??= '100'
      const receiverPort = await freePort()
      const stack = await startTemporaryStack([demoOrigin, `http://127.0.0.1:${receiverPort}`])
      let demo: Server | undefined
      const close = () =>
        new Promise<void>((closed) => (demo ? demo.close(() => closed()).closeAllConnections() : closed()))
      const serve = async (site: Server) => {
        await close()
        demo = site
        await new Promise<void>((started) => site.listen(demoPort, '127.0.0.1', started))
      }
      await use({
        ...stack,
        demoOrigin,
        receiverPort,
        serveDemo: (options) => serve(createDemoSite(options)),
        serve,
      })
      await close()
      await stack.stop()
    },
    { scope: 'worker', timeout: 120_000 },
  ],
})
