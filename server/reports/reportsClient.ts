import { setTimeout as wait } from 'node:timers/promises'
import { deserialize, serialize } from 'node:v8'
import { evidenceOf, type EvidenceCall, type EvidenceThread } from '../services/evidence/askEvidence'
import { HttpProblem } from '../services/HttpProblem'
import { valueOf, type ThreadReply } from '../services/threadReply'

/** The process is started again within a second or two. */
const TRIES = 20
const BETWEEN_TRIES = 200

/**
 * Asks the process that answers reports.
 *
 * @param url - where it listens
 * @param key - what shows that this process is of the same installation
 */
export function openReportsClient(url: string, key: string): EvidenceThread {
  return evidenceOf(async (call) => valueOf(await ask(url, key, call)))
}

async function ask(url: string, key: string, call: EvidenceCall): Promise<ThreadReply> {
  for (let tries = 1; ; tries++) {
    try {
      const answer = await fetch(url, {
        method: 'POST',
        body: new Uint8Array(serialize(call)),
        headers: { authorization: `Bearer ${key}` },
      })
      if (!answer.ok) throw new Error(`Reports answered ${answer.status}.`)
      return deserialize(Buffer.from(await answer.arrayBuffer())) as ThreadReply
    } catch (error) {
      if (isStarting(error) && tries < TRIES) await wait(BETWEEN_TRIES)
      else {
        console.error(error)
        throw new HttpProblem(503, 'The report was interrupted. Ask again.')
      }
    }
  }
}

/** Nobody listens yet, so nothing has been asked. */
function isStarting(error: unknown): boolean {
  const cause = error instanceof Error ? error.cause : null
  return cause instanceof Error && 'code' in cause && cause.code === 'ECONNREFUSED'
}
