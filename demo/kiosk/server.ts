import { randomBytes } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { createServer, type Server } from 'node:http'
import { resolve } from 'node:path'
import { object, number, string } from 'yup'
import { CROSSINGS, fare } from '../site/crossings'
import { FONTS } from '../site/fonts'
import { readForm } from '../site/readForm'
import type { Ticket } from './protocol'

const BUILT = resolve('.output/kiosk')
const TYPES: Record<string, string> = { js: 'text/javascript', css: 'text/css' }

const saleSchema = object({
  slug: string()
    .oneOf(CROSSINGS.map(({ slug }) => slug))
    .required(),
  adults: number().integer().min(1).max(9).required(),
  children: number().integer().min(0).max(9).required(),
})

/** The ticket kiosk: one page that goes on by itself, and a till. */
export function createKiosk({ scriptLine }: { scriptLine: string }): Server {
  const page = readFileSync(`${BUILT}/index.html`, 'utf8').replace('<!--vetch-->', () => scriptLine)
  return createServer(async (request, response) => {
    const path = new URL(request.url ?? '/', 'http://kiosk.invalid').pathname
    if (request.method === 'POST' && path === '/tickets') {
      const ticket = sell(await readForm(request))
      return response
        .writeHead(ticket ? 200 : 422, { 'content-type': 'application/json' })
        .end(JSON.stringify(ticket ?? { message: 'This crossing does not exist.' }))
    }
    const font = FONTS.get(path)
    if (font) return response.writeHead(200, { 'content-type': 'font/woff2' }).end(font)
    const [, asset, type] = /^\/assets\/([\w-]+\.(js|css))$/.exec(path) ?? []
    const file = asset && readBuilt(`assets/${asset}`)
    if (file) return response.writeHead(200, { 'content-type': TYPES[type!] }).end(file)
    // Every other address is one of the page's own.
    response.writeHead(asset ? 404 : 200, { 'content-type': 'text/html; charset=utf-8' }).end(page)
  })
}

function sell(body: string): Ticket | null {
  try {
    const { slug, adults, children } = saleSchema.validateSync(JSON.parse(body))
    const crossing = CROSSINGS.find((each) => each.slug === slug)!
    return {
      number: `KT-${randomBytes(3).toString('hex').toUpperCase()}`,
      total: fare(crossing, { adults, children, vehicleMeters: 0 }),
    }
  } catch {
    return null
  }
}

function readBuilt(name: string): Buffer | null {
  try {
    return readFileSync(`${BUILT}/${name}`)
  } catch {
    return null
  }
}
