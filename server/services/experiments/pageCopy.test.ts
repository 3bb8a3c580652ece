import { expect, test } from 'vitest'
import { scriptLine } from '../../../shared/delivery/scriptLine'
import { copyOfPage } from './pageCopy'

const parts = {
  address: 'https://kc.example/book?a=1&b=2',
  overlay: 'https://vetch.example/overlay.js?key=K&token=1.2.x',
  path: '/book',
}
const BASE = '<base href="https://kc.example/book?a=1&#38;b=2">'
const SCRIPT = '<script src="https://vetch.example/overlay.js?key=K&#38;token=1.2.x" data-path="/book"></script>'

test('the overlay comes first in the head, and addresses lead where they led', () => {
  const html = '<!doctype html><html><head><title>x</title></head><body><p>Hi</p></body></html>'
  expect(copyOfPage(html, parts)).toBe(html.replace('<head>', `<head>${BASE}${SCRIPT}`))
  expect(copyOfPage('<!doctype html><p>Hi', parts)).toBe(`<!doctype html>${BASE}${SCRIPT}<p>Hi`)
  expect(copyOfPage('<head><base href="/x/"></head>', parts)).toBe(`<head>${SCRIPT}<base href="/x/"></head>`)
})

test('the page’s own line, and policies against the overlay, are taken out; all else stays as it is', () => {
  const line = scriptLine('https://vetch.example', 'KEY1')
  const policy = `<meta http-equiv="Content-Security-Policy" content="default-src 'none'">`
  const html = `<head><style>a{}</style>${line}${policy}<script src="/own.js"></script></head><b>&amp;</b><script>"</p>"</script>`
  expect(copyOfPage(html, parts)).toBe(
    `<head>${BASE}${SCRIPT}<style>a{}</style><script src="/own.js"></script></head><b>&amp;</b><script>"</p>"</script>`,
  )
})

test('addresses cannot break out of their attributes', () => {
  expect(copyOfPage('<head>', { ...parts, path: '/"><script>go()</script>' })).not.toContain('<script>go()')
})
