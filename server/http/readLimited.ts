import { getHeader, setResponseHeader, type H3Event } from 'h3'
import { HttpProblem } from '../services/HttpProblem'

/**
 * The body of a request as text, whether its length is announced or not. Reading stops at the limit, and the connection
 * ends with the answer: a body without an end would fill the memory.
 *
 * @throws HttpProblem 413 when there is more
 */
export async function readLimited(event: H3Event, most: number): Promise<string> {
  return (await readLimitedBytes(event, most)).toString('utf8')
}

/** The same as it comes. */
export async function readLimitedBytes(event: H3Event, most: number): Promise<Buffer> {
  const refuse = () => {
    setResponseHeader(event, 'connection', 'close')
    return new HttpProblem(413, `The body is larger than ${most} bytes.`)
  }
  if (Number(getHeader(event, 'content-length') ?? 0) > most) throw refuse()
  const chunks: Buffer[] = []
  let size = 0
  for await (const chunk of event.node.req.iterator({ destroyOnReturn: false })) {
    size += (chunk as Buffer).length
    if (size > most) throw refuse()
    chunks.push(chunk as Buffer)
  }
  return Buffer.concat(chunks)
}
