import { createHash } from 'node:crypto'

/** Digest of what was sent under an id, the same for the same content whatever the order of its fields; as `bytea`. */
export function contentDigest(content: object): string {
  return `\\x${createHash('sha256').update(stable(content)).digest('hex').slice(0, 32)}`
}

function stable(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(stable).join(',')}]`
  if (value && typeof value === 'object') {
    return `{${Object.entries(value)
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([name, part]) => `${JSON.stringify(name)}:${stable(part)}`)
      .join(',')}}`
  }
  return JSON.stringify(value)
}
