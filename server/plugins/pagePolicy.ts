import { createHash } from 'node:crypto'
import { defineNitroPlugin } from '#imports'

/** Inline scripts that the page is served with: only these very texts may run. */
const INLINE_SCRIPT = /<script(?![^>]*\ssrc=)[^>]*>([\s\S]*?)<\/script>/g

/** Says, with each page of the interface, what it may load and run, and that nobody may show it in a frame. */
export default defineNitroPlugin((nitro) => {
  nitro.hooks.hook('render:response', (response) => {
    const html = typeof response.body === 'string' ? response.body : ''
    const hashes = [...html.matchAll(INLINE_SCRIPT)].map(
      ([, text]) => `'sha256-${createHash('sha256').update(text!).digest('base64')}'`,
    )
    const policy = [
      "default-src 'self'",
      `script-src 'self' ${hashes.join(' ')}`,
      // Charts and positioned panels set styles by attribute.
      "style-src 'self' 'unsafe-inline'",
      "img-src 'self' data: blob:",
      "font-src 'self' data:",
      "worker-src 'self' blob:",
      // Pages under test are opened in a sandboxed frame.
      'frame-src http: https:',
      "object-src 'none'",
      "base-uri 'none'",
      "form-action 'self'",
      "frame-ancestors 'none'",
    ]
    const { 'x-powered-by': _, ...headers } = response.headers ?? {}
    response.headers = { ...headers, 'content-security-policy': policy.join('; ') }
  })
})
