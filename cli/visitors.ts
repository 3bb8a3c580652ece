import { setTimeout as wait } from 'node:timers/promises'
import { parseArgs } from 'node:util'
import { CROSSINGS_POPULATION, KIOSK_POPULATION, type Population } from '../demo/visitors/population'
import { sendVisitors } from '../demo/visitors/sendVisitors'
import { helpOf } from './helpOf'
import { HumanError } from './HumanError'

const HELP = helpOf('visitors')

export async function run(args: string[]): Promise<number> {
  const { values } = parseArgs({
    args,
    options: {
      rate: { type: 'string', default: '5' },
      vetch: { type: 'string', default: 'http://127.0.0.1:4100' },
      site: { type: 'string', default: 'http://127.0.0.1:4200' },
      seconds: { type: 'string' },
      help: { type: 'boolean', default: false },
    },
  })
  if (values.help) {
    console.log(HELP)
    return 0
  }
  const rate = Number(values.rate)
  if (!(rate > 0 && rate <= 500))
    throw new HumanError('--rate takes a number of visitors a second, above 0 and at most 500.')
  const { key, population } = await lookAt(values.site)
  const stopping = new AbortController()
  process.once('SIGINT', () => stopping.abort())
  process.once('SIGTERM', () => stopping.abort())
  if (values.seconds) void wait(Number(values.seconds) * 1000, null, { ref: false }).then(() => stopping.abort())

  console.log(`Sending ${rate} visitors a second to ${values.vetch}. Ctrl-C stops.`)
  const sent = await sendVisitors(
    { vetch: values.vetch, site: values.site, key, population, rate, seed: Date.now() },
    stopping.signal,
    (line) => {
      if (process.stdout.isTTY) process.stdout.write(`\r${line}   `)
    },
  )
  console.log(`\n${sent.visitors} visitors, ${sent.events} events acknowledged, ${sent.failures} requests failed.`)
  return sent.failures > 0 && sent.events === 0 ? 1 : 0
}

/** The key stands in the script line of the site's pages; who comes is told by which of the demo's sites it is. */
async function lookAt(site: string): Promise<{ key: string; population: Population }> {
  const html = await fetch(site).then(
    (reply) => reply.text(),
    () => {
      throw new HumanError(`${site} does not answer. Start it with ./vetch start, or name the site with --site.`)
    },
  )
  const key = /\/s\/([\w-]+)\.js/.exec(html)?.[1]
  if (!key) throw new HumanError(`${site} carries no script line of Vetch.`)
  return { key, population: html.includes('id="kiosk"') ? KIOSK_POPULATION : CROSSINGS_POPULATION }
}
