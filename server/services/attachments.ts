import type { Attachment } from '../../shared/findings/replies'
import { fileTypeFromBuffer } from 'file-type'
import { and, asc, count, eq, sql } from 'drizzle-orm'
import { LARGEST_ATTACHMENT, MOST_ATTACHMENTS } from '../../shared/findings/finding'
import type { Database, Queries } from '../database/connect'
import { attachment, finding, hypothesis } from '../database/schema'
import { HttpProblem } from './HttpProblem'

export const PICTURES: ReadonlySet<string> = new Set(['image/png', 'image/jpeg', 'image/webp', 'image/gif'])
const OTHERS: ReadonlySet<string> = new Set(['application/pdf'])
const TEXT = 'text/plain'

/**
 * What a file is, by its content and not by its name: a picture, a PDF, or a text.
 *
 * @throws HttpProblem 422 for anything else
 */
export async function typeOf(content: Buffer): Promise<string> {
  const found = await fileTypeFromBuffer(content)
  if (found && (PICTURES.has(found.mime) || OTHERS.has(found.mime))) return found.mime
  if (!found && isText(content)) return TEXT
  throw new HttpProblem(422, 'Attach a picture (PNG, JPEG, WebP or GIF), a PDF or a text.')
}

function isText(content: Buffer): boolean {
  if (content.length === 0 || content.includes(0)) return false
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(content)
    return true
  } catch {
    return false
  }
}

/** What a file belongs to. */
export type FileOwner = { findingId: number } | { hypothesisId: number }

const isOf = (siteId: number, owner: FileOwner) =>
  and(
    eq(attachment.siteId, siteId),
    'findingId' in owner ? eq(attachment.findingId, owner.findingId) : eq(attachment.hypothesisId, owner.hypothesisId),
  )

/** Files of something, without what they hold. */
export async function attachmentsOf(database: Queries, siteId: number, owner: FileOwner): Promise<Attachment[]> {
  return database
    .select({
      id: attachment.id,
      name: attachment.name,
      type: attachment.type,
      bytes: sql<number>`length(${attachment.content})`,
      isPicture: attachment.isPicture,
    })
    .from(attachment)
    .where(isOf(siteId, owner))
    .orderBy(asc(attachment.id))
}

interface NewFile {
  name: string
  content: Buffer
  isPicture: boolean
}

/** @throws HttpProblem with what is wrong with the file */
export async function addAttachment(
  database: Database,
  { siteId, personId, ...owner }: { siteId: number; personId: number | null } & FileOwner,
  { name, content, isPicture }: NewFile,
): Promise<Attachment> {
  if (content.length > LARGEST_ATTACHMENT)
    throw new HttpProblem(413, `A file holds at most ${LARGEST_ATTACHMENT / 1024 / 1024} MB.`)
  const type = await typeOf(content)
  if (isPicture && !PICTURES.has(type)) throw new HttpProblem(422, 'This file is no picture.')
  return database.transaction(async (tx) => {
    // One after the other by what they belong to: none passes the limit beside another.
    await lockOwner(tx, siteId, owner)
    const [held] = await tx.select({ files: count() }).from(attachment).where(isOf(siteId, owner))
    if (held!.files >= MOST_ATTACHMENTS) throw new HttpProblem(422, `At most ${MOST_ATTACHMENTS} files.`)
    const [made] = await tx
      .insert(attachment)
      .values({ siteId, ...owner, name, type, content, isPicture, createdBy: personId })
      .returning({ id: attachment.id })
    return { id: made!.id, name, type, bytes: content.length, isPicture }
  })
}

async function lockOwner(tx: Queries, siteId: number, owner: FileOwner): Promise<void> {
  const [found] =
    'findingId' in owner
      ? await tx
          .select({ id: finding.id })
          .from(finding)
          .where(and(eq(finding.siteId, siteId), eq(finding.id, owner.findingId)))
          .for('no key update')
      : await tx
          .select({ id: hypothesis.id })
          .from(hypothesis)
          .where(and(eq(hypothesis.siteId, siteId), eq(hypothesis.id, owner.hypothesisId)))
          .for('no key update')
  if (!found) throw new HttpProblem(404, 'What the file belongs to does not exist any more.')
}

export async function readAttachment(
  database: Queries,
  siteId: number,
  owner: FileOwner,
  attachmentId: number,
): Promise<{ name: string; type: string; content: Buffer }> {
  const [found] = await database
    .select({ name: attachment.name, type: attachment.type, content: attachment.content })
    .from(attachment)
    .where(and(isOf(siteId, owner), eq(attachment.id, attachmentId)))
  if (!found) throw new HttpProblem(404, 'This file does not exist any more.')
  return found
}

export async function deleteAttachment(
  database: Queries,
  siteId: number,
  owner: FileOwner,
  attachmentId: number,
): Promise<void> {
  const gone = await database
    .delete(attachment)
    .where(and(isOf(siteId, owner), eq(attachment.id, attachmentId)))
    .returning({ id: attachment.id })
  if (gone.length === 0) throw new HttpProblem(404, 'This file does not exist any more.')
}
