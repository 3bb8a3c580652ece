import { timingSafeEqual } from 'node:crypto'
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http'
import { buffer } from 'node:stream/consumers'
import { deserialize, serialize } from 'node:v8'
import type { EvidenceCall, EvidenceThread } from '../services/evidence/askEvidence'
import { replyOf, type ThreadReply } from '../services/threadReply'

/**
 * Answers the questions of web processes from the thread that holds visits. Questions and answers go as Node.js
 * serializes them: both ends are of one installation, and whoever does not show the key is not read.
 */
export function serveReports(thread: EvidenceThread, key: string): Server {
  return createServer((request, response) => {
    if (!isOwn(request, key)) return void response.writeHead(401).end()
    void answer(thread, request).then(
      (reply) => response.end(serialize(reply)),
      (error: unknown) => fail(response, error),
    )
  })
}

async function answer(thread: EvidenceThread, request: IncomingMessage): Promise<ThreadReply> {
  const call = deserialize(await buffer(request)) as EvidenceCall
  return replyOf(() => thread.call(call))
}

function fail(response: ServerResponse, error: unknown): void {
  console.error(error)
  response.writeHead(500).end()
}

function isOwn({ headers }: IncomingMessage, key: string): boolean {
  const shown = Buffer.from(headers.authorization ?? '')
  const expected = Buffer.from(`Bearer ${key}`)
  return shown.length === expected.length && timingSafeEqual(shown, expected)
}
