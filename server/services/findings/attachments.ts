import { fileTypeFromBuffer } from 'file-type'
import { and, asc, count, eq, sql } from 'drizzle-orm'
import { LARGEST_ATTACHMENT, MOST_ATTACHMENTS, type Attachment } from '../../../shared/findings'
import type { Database, Queries } from '../../database/connect'
import { attachment, finding } from '../../database/schema'
import { HttpProblem } from '../HttpProblem'

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

/** Files of a finding, without what they hold. */
export async function attachmentsOf(database: Queries, siteId: number, findingId: number): Promise<Attachment[]> {
  return database
    .select({
      id: attachment.id,
      name: attachment.name,
      type: attachment.type,
      bytes: sql<number>`length(${attachment.content})`,
      isPicture: attachment.isPicture,
    })
    .from(attachment)
    .where(and(eq(attachment.siteId, siteId), eq(attachment.findingId, findingId)))
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
  { siteId, findingId, personId }: { siteId: number; findingId: number; personId: number | null },
  { name, content, isPicture }: NewFile,
): Promise<Attachment> {
  if (content.length > LARGEST_ATTACHMENT)
    throw new HttpProblem(413, `A file holds at most ${LARGEST_ATTACHMENT / 1024 / 1024} MB.`)
  const type = await typeOf(content)
  if (isPicture && !PICTURES.has(type)) throw new HttpProblem(422, 'This file is no picture.')
  return database.transaction(async (tx) => {
    // One after the other by finding: none passes the limit beside another.
    const [owner] = await tx
      .select({ id: finding.id })
      .from(finding)
      .where(and(eq(finding.siteId, siteId), eq(finding.id, findingId)))
      .for('update')
    if (!owner) throw new HttpProblem(404, 'This finding does not exist any more.')
    const [held] = await tx
      .select({ files: count() })
      .from(attachment)
      .where(and(eq(attachment.siteId, siteId), eq(attachment.findingId, findingId)))
    if (held!.files >= MOST_ATTACHMENTS) throw new HttpProblem(422, `A finding has at most ${MOST_ATTACHMENTS} files.`)
    const [made] = await tx
      .insert(attachment)
      .values({ siteId, findingId, name, type, content, isPicture, createdBy: personId })
      .returning({ id: attachment.id })
    return { id: made!.id, name, type, bytes: content.length, isPicture }
  })
}

const isThis = (siteId: number, findingId: number, attachmentId: number) =>
  and(eq(attachment.siteId, siteId), eq(attachment.findingId, findingId), eq(attachment.id, attachmentId))

export async function readAttachment(
  database: Queries,
  siteId: number,
  findingId: number,
  attachmentId: number,
): Promise<{ name: string; type: string; content: Buffer }> {
  const [found] = await database
    .select({ name: attachment.name, type: attachment.type, content: attachment.content })
    .from(attachment)
    .where(isThis(siteId, findingId, attachmentId))
  if (!found) throw new HttpProblem(404, 'This file does not exist any more.')
  return found
}

export async function deleteAttachment(
  database: Queries,
  siteId: number,
  findingId: number,
  attachmentId: number,
): Promise<void> {
  const gone = await database
    .delete(attachment)
    .where(isThis(siteId, findingId, attachmentId))
    .returning({ id: attachment.id })
  if (gone.length === 0) throw new HttpProblem(404, 'This file does not exist any more.')
}
