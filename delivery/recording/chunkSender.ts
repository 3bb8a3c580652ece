import { guarded } from '../snippet/safely'
import { createChunkStore } from './chunkStore'

/** Browsers take 64 KB of requests that outlive their page, all together with those of the snippet. */
const LARGEST_LAST = 30_000
const PAUSE = 500
const LONGEST_PAUSE = 60_000

export interface ChunkSender {
  /** @param isLast - whether the page may go at once */
  send: (chunk: string, isLast: boolean) => void
  /** Sends nothing more, and forgets what was not sent. */
  stop: () => void
}

/**
 * Sends chunks one after the other, compressed, and keeps each in the browser until Vetch has acknowledged it: what a
 * page leaves behind, or what was recorded without a connection, the next page sends.
 */
export function createChunkSender(address: string, key: string): ChunkSender {
  const store = createChunkStore(key)
  let pause = PAUSE
  let isSending = false
  let isStopped = false

  async function sendKept(): Promise<void> {
    if (isSending || isStopped) return
    isSending = true
    try {
      for (let next = await store.oldest(); next && !isStopped; next = await store.oldest()) {
        const status = await post(await compressed(next.chunk), false).catch(() => 0)
        const mayWait = status === 0 || status === 408 || status === 429 || status >= 500
        if (mayWait) {
          pause = Math.min(LONGEST_PAUSE, pause * 3)
          setTimeout(guarded(sendKept), pause)
          return
        }
        // What Vetch refuses once it will refuse again.
        pause = PAUSE
        await store.remove(next.id)
      }
    } finally {
      isSending = false
    }
  }

  async function post(body: Blob, keepalive: boolean): Promise<number> {
    const reply = await fetch(address, { method: 'POST', body, keepalive, credentials: 'omit' })
    return reply.status
  }

  async function sendLast(chunk: string): Promise<void> {
    // Kept as well: should the page go before it is sent, the next one sends it, and twice counts once.
    const kept = store.add(chunk)
    if (chunk.length > LARGEST_LAST) return
    const status = await post(new Blob([chunk], { type: 'text/plain' }), true)
    if (status >= 200 && status < 300) await store.remove(await kept)
  }

  void sendKept()
  addEventListener('online', guarded(sendKept))
  return {
    send(chunk, isLast) {
      if (isStopped) return
      if (isLast) guarded(sendLast)(chunk)
      else guarded(async () => (await store.add(chunk), sendKept()))()
    },
    stop() {
      isStopped = true
      guarded(store.clear)()
    },
  }
}

/** As plain text it needs no preflight; that it is compressed its first bytes say. */
async function compressed(text: string): Promise<Blob> {
  const plain = new Blob([text], { type: 'text/plain' })
  if (typeof CompressionStream !== 'function') return plain
  const packed = await new Response(plain.stream().pipeThrough(new CompressionStream('gzip'))).blob()
  return new Blob([packed], { type: 'text/plain' })
}
