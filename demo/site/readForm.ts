import type { IncomingMessage } from 'node:http'

const LONGEST_FORM = 10_000

/** The body of a request, as far as a form could be long. */
export async function readForm(request: IncomingMessage): Promise<string> {
  let text = ''
  for await (const chunk of request) {
    text += chunk
    if (text.length > LONGEST_FORM) break
  }
  return text
}
