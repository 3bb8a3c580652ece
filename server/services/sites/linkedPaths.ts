import { Parser } from 'htmlparser2'

/** Files that are no pages. */
const NO_PAGE = /\.(?:pdf|zip|gz|jpe?g|png|gif|svg|webp|avif|ico|mp[34]|webm|css|js|json|xml|txt|csv|xlsx?|docx?)$/i
const MOST = 500

/**
 * Paths of the site's own pages that a page links to, each once, in the order in which they stand.
 *
 * @param html - as served
 * @param address - of the page itself: links are relative to it
 * @example linkedPaths('<a href="book?step=2#top">Book</a>', 'https://shop.example/en/') // ['/en/book']
 */
export function linkedPaths(html: string, address: string): string[] {
  const paths = new Set<string>()
  let base = address
  const parser = new Parser({
    onopentag(name, { href }) {
      if (href === undefined || paths.size >= MOST) return
      if (name === 'base' && URL.canParse(href, address)) base = new URL(href, address).href
      if (name !== 'a' || !URL.canParse(href, base)) return
      const { origin, pathname } = new URL(href, base)
      if (origin === new URL(address).origin && !NO_PAGE.test(pathname)) paths.add(pathname)
    },
  })
  parser.end(html)
  return [...paths]
}
