import { escaped } from '../escaped'
import type { ReceivedMessage } from './receiver'

/** The messages of the receiver as a page, with what it answers. */
export function receiverPage(messages: readonly ReceivedMessage[], status: number): string {
  const shown = messages.map(
    ({ at, kind, delivery, body, isGenuine, status: answered }) =>
      `<article><h2>${escaped(kind)}</h2><p>${escaped(at)}, delivery ${escaped(delivery)}, ${
        isGenuine ? 'signature holds' : 'signature does not hold'
      }, answered ${answered}</p><pre>${escaped(body)}</pre></article>`,
  )
  const options = [200, 410, 500]
    .map((each) => `<option${each === status ? ' selected' : ''}>${each}</option>`)
    .join('')
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>Receiver</title>
<meta name="viewport" content="width=device-width">
<style>body{font:15px/1.5 system-ui;max-width:44rem;margin:2rem auto;padding:0 1rem;color-scheme:light dark}
pre{white-space:pre-wrap;overflow-wrap:anywhere}h2{font-size:1rem;margin:1.5rem 0 0}p{margin:0;opacity:.75}</style>
<h1>Receiver</h1><p>What webhooks have sent here.</p>
<form method="post" action="/settings"><p><label>Answer with <select name="status">${options}</select></label>
<label>One more secret <input name="secret" autocomplete="off"></label> <button>Save</button></p></form>
${shown.join('\n') || '<p>Nothing yet.</p>'}</html>`
}
