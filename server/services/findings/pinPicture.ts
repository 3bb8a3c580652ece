import type { Attachment } from '../../../shared/findings/replies'
import type { Database } from '../../database/connect'
import { HttpProblem } from '../HttpProblem'
import { siteReach } from '../sites/reach'
import { findSite } from '../sites/sites'
import { addAttachment } from '../attachments'
import { findFinding } from './findings'
import { photographElement } from '../pictures/photographPage'

/**
 * Takes a picture of the page that a finding is pinned to, and keeps it with the finding.
 *
 * @throws HttpProblem with why none was taken
 */
export async function takePinPicture(
  database: Database,
  target: { siteId: number; findingId: number; personId: number | null },
  trustedOrigins: readonly string[],
): Promise<Attachment> {
  const { siteId, findingId } = target
  const { pin } = await findFinding(database, siteId, findingId)
  if (!pin) throw new HttpProblem(422, 'This finding is pinned to no page.')
  const { address } = await findSite(database, siteId)
  const page = new URL(pin.path, address)
  if (page.origin !== new URL(address).origin)
    throw new HttpProblem(422, 'A finding is pinned to a page of its own site.')
  const { content, isFound } = await photographElement(
    page.href,
    pin,
    await siteReach(database, siteId, trustedOrigins),
  )
  const name = isFound ? 'The page.jpg' : 'The page, without the element.jpg'
  return addAttachment(database, target, { name, content, isPicture: true })
}
