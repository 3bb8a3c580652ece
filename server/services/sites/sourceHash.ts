import { createHash } from 'node:crypto'

/** What a content security policy allows an inline style or script by. */
export function sourceHash(text: string): string {
  return `sha256-${createHash('sha256').update(text).digest('base64')}`
}
