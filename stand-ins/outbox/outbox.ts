import { mkdirSync, writeFileSync } from 'node:fs'
import { createServer, type Server } from 'node:http'
import { join } from 'node:path'
import { simpleParser } from 'mailparser'
import { SMTPServer } from 'smtp-server'
import { outboxPage } from './outboxPage'

/** A letter that would have gone out. */
export interface PostedLetter {
  to: string
  subject: string
  text: string
  at: string
}

export interface Outbox {
  smtpUrl: string
  webUrl: string
  /** The latest first. */
  letters: () => readonly PostedLetter[]
  close: () => Promise<void>
}

interface OutboxOptions {
  smtpPort: number
  webPort: number
  /** Where letters are kept as files; nowhere when left out. */
  folder?: string
}

const MOST_LETTERS = 200
const LARGEST_LETTER = 5 * 1024 * 1024

/** Stands in for a mail server: takes letters by SMTP on the loopback address and shows them, and sends none. */
export async function openOutbox({ smtpPort, webPort, folder }: OutboxOptions): Promise<Outbox> {
  const letters: PostedLetter[] = []
  const taken = new Set<string>()
  let posted = 0
  const smtp = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS', 'AUTH'],
    size: LARGEST_LETTER,
    onData(stream, _session, done) {
      const parts: Buffer[] = []
      stream.on('data', (part: Buffer) => parts.push(part))
      stream.on('end', () => {
        const raw = Buffer.concat(parts)
        keep(raw).then(
          () => done(),
          (error: Error) => done(error),
        )
      })
    },
  })
  // Whoever goes away in the middle of a letter is no reason to stop.
  smtp.on('error', () => {})

  async function keep(raw: Buffer): Promise<void> {
    const { to, subject = '', text = '', date, messageId } = await simpleParser(raw)
    // As mail servers do with what they have taken before.
    if (messageId && taken.has(messageId)) return
    if (messageId) taken.add(messageId)
    const at = (date ?? new Date()).toISOString()
    const addressees = (Array.isArray(to) ? to : to ? [to] : []).map((each) => each.text).join(', ')
    letters.unshift({ to: addressees, subject, text, at })
    letters.splice(MOST_LETTERS)
    posted += 1
    if (!folder) return
    // It holds links that open accounts.
    mkdirSync(folder, { recursive: true, mode: 0o700 })
    writeFileSync(join(folder, `${at.replaceAll(':', '-')}-${posted}.eml`), raw, { mode: 0o600 })
  }

  const web = createServer((request, reply) => {
    reply.setHeader('cache-control', 'no-store')
    // A page of elsewhere that leads its own name here is to read nothing: letters open accounts.
    if (!/^(127\.0\.0\.1|localhost):\d+$/.test(request.headers.host ?? '')) return void reply.writeHead(403).end()
    reply.setHeader('content-security-policy', "default-src 'none'; style-src 'unsafe-inline'")
    if (request.url === '/letters.json') {
      reply.setHeader('content-type', 'application/json')
      return void reply.end(JSON.stringify(letters))
    }
    reply.setHeader('content-type', 'text/html; charset=utf-8')
    reply.end(outboxPage(letters))
  })
  await Promise.all([listening(web, webPort), smtpListening(smtp, smtpPort)])
  return {
    smtpUrl: `smtp://127.0.0.1:${smtpPort}`,
    webUrl: `http://127.0.0.1:${webPort}`,
    letters: () => letters,
    close: async () => {
      web.closeAllConnections()
      await Promise.all([
        new Promise((closed) => web.close(closed)),
        new Promise<void>((closed) => smtp.close(() => closed())),
      ])
    },
  }
}

function listening(server: Server, port: number): Promise<void> {
  return new Promise((started, failed) => {
    server.once('error', failed)
    server.listen(port, '127.0.0.1', () => started())
  })
}

function smtpListening(server: SMTPServer, port: number): Promise<void> {
  return new Promise((started, failed) => {
    server.once('error', failed)
    server.listen(port, '127.0.0.1', () => started())
  })
}
