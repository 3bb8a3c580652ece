import { createServer, request as ask, type Server } from 'node:http'

/**
 * A site's own server, which hands one of its paths on to Vetch as Setup describes it.
 *
 * @param source - the address that its visitors come from
 */
export function handOn(site: Server, path: string, vetch: string, source: string): Server {
  return createServer((request, response) => {
    if (!request.url?.startsWith(`${path}/`)) return site.emit('request', request, response)
    const handed = ask(
      vetch + request.url.slice(path.length),
      {
        method: request.method,
        headers: {
          ...request.headers,
          'x-forwarded-for': source,
          'x-forwarded-proto': 'http',
          'x-forwarded-host': request.headers.host,
        },
      },
      (reply) => reply.pipe(response.writeHead(reply.statusCode ?? 502, reply.headers)),
    )
    handed.on('error', () => response.writeHead(502).end())
    return request.pipe(handed)
  })
}
