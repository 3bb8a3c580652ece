import { randomBytes } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { createServer, type Server } from 'node:http'
import { bookPage, donePage, payPage, readBooking, totalOf, travelersPage, type Confirmed } from './booking'
import { FONTS } from './fonts'
import { layout, PAGES, type Page } from './pages'
import { readForm } from './readForm'

const MOST_BOOKINGS = 10_000
const style = readFileSync(new URL('./style.css', import.meta.url))

export interface DemoSiteOptions {
  /** What stands in each page's head. */
  scriptLine: string
  /** Answer with a strict content security policy. */
  contentSecurityPolicy?: string
}

/** The demo site: plain pages and a booking flow, with its bookings in memory. */
export function createDemoSite({ scriptLine, contentSecurityPolicy }: DemoSiteOptions): Server {
  const bookings = new Map<string, Confirmed>()

  function pageFor(path: string, query: URLSearchParams): Page | undefined {
    if (path === '/book') return bookPage(query)
    if (path === '/book/travelers') return travelersPage(query)
    if (path === '/book/pay') return payPage(query)
    if (path === '/book/done') return donePage(bookings.get(query.get('ref') ?? ''))
    return Object.hasOwn(PAGES, path) ? PAGES[path] : undefined
  }

  function book(form: URLSearchParams): string {
    const booking = readBooking(form)
    const ref = `KC-${randomBytes(3).toString('hex').toUpperCase()}`
    bookings.set(ref, { ...booking, ref, total: totalOf(booking) })
    if (bookings.size > MOST_BOOKINGS) bookings.delete(bookings.keys().next().value!)
    return ref
  }

  return createServer(async (request, response) => {
    const url = new URL(request.url ?? '/', 'http://demo.invalid')
    const path = url.pathname.length > 1 ? url.pathname.replace(/\/$/, '') : '/'
    const font = FONTS.get(path)
    if (font) return response.writeHead(200, { 'content-type': 'font/woff2' }).end(font)
    if (path === '/style.css') return response.writeHead(200, { 'content-type': 'text/css' }).end(style)
    if (request.method === 'POST' && path === '/book/pay') {
      const ref = book(new URLSearchParams(await readForm(request)))
      return response.writeHead(303, { location: `/book/done?ref=${ref}` }).end()
    }
    const page = pageFor(path, url.searchParams)
    response.writeHead(page ? 200 : 404, {
      'content-type': 'text/html; charset=utf-8',
      ...(contentSecurityPolicy ? { 'content-security-policy': contentSecurityPolicy } : {}),
    })
    response.end(
      layout(
        page ?? { title: 'Not found', body: '<h1>This page does not exist</h1><p><a href="/">To the start</a></p>' },
        scriptLine,
      ),
    )
  })
}
