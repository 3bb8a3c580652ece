import { setHeader, type H3Event } from 'h3'
import { PICTURES } from '../services/attachments'

/**
 * Answers with a file that somebody has attached. Pictures are shown; everything else is saved, so that nothing in it
 * runs here.
 */
export function sendAttachment(
  event: H3Event,
  { name, type, content }: { name: string; type: string; content: Buffer },
) {
  const isPicture = PICTURES.has(type)
  setHeader(event, 'content-type', isPicture ? type : 'application/octet-stream')
  setHeader(event, 'content-security-policy', "default-src 'none'; sandbox")
  setHeader(
    event,
    'content-disposition',
    `${isPicture ? 'inline' : 'attachment'}; filename*=UTF-8''${encodeURIComponent(name).replaceAll("'", '%27')}`,
  )
  return content as unknown as string
}
