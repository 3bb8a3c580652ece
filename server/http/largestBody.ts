import { LARGEST_ATTACHMENT } from '../../shared/findings/finding'
import { LARGEST_BATCH } from '../../shared/intake/collect'
import { LARGEST_CHUNK } from '../../shared/intake/record'

/** Bytes that an operation of the API takes, where no file comes with it. */
export const LARGEST_BODY = 2 * 1024 * 1024

/** Bytes that a body may have at an address: more is refused before anything is handed on. */
export function largestBody(address: string): number {
  const [path = ''] = address.split('?', 1)
  if (path === '/collect') return LARGEST_BATCH
  if (path === '/record') return LARGEST_CHUNK
  return path.endsWith('/attachments') ? LARGEST_ATTACHMENT : LARGEST_BODY
}
