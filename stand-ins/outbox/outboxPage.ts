import { escaped } from '../escaped'
import type { PostedLetter } from './outbox'

/** Links of letters can be followed; everything else of them is text. */
const linked = (text: string) =>
  escaped(text).replace(/https?:\/\/[^\s<]+/g, (address) => `<a href="${address}">${address}</a>`)

/** The letters of the outbox as a page. */
export function outboxPage(letters: readonly PostedLetter[]): string {
  const shown = letters.map(
    ({ to, subject, text, at }) =>
      `<article><h2>${escaped(subject)}</h2><p>to ${escaped(to)}, ${escaped(at)}</p><pre>${linked(text)}</pre></article>`,
  )
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>Outbox</title>
<meta name="viewport" content="width=device-width">
<style>body{font:15px/1.5 system-ui;max-width:44rem;margin:2rem auto;padding:0 1rem;color-scheme:light dark}
pre{white-space:pre-wrap;overflow-wrap:anywhere}h2{font-size:1rem;margin:1.5rem 0 0}p{margin:0;opacity:.75}</style>
<h1>Outbox</h1><p>Letters that would go out, were a mail server set. They leave this machine nowhere.</p>
${shown.join('\n') || '<p>None yet.</p>'}</html>`
}
