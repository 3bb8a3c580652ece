import { createHmac } from 'node:crypto'

/** What the web processes show to the process that answers reports: nobody else can make it. */
export function reportsKey(secret: string): string {
  return createHmac('sha256', secret).update('reports').digest('base64url')
}
