import { hash } from 'node:crypto'

/** Digest of what was sent under an id, the same for the same content whatever the order of its fields; as `bytea`. */
export function contentDigest(content: object): string {
  return `\\x${hash('sha256', stable(content)).slice(0, 32)}`
}

function stable(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(stable).join(',')}]`
  if (value && typeof value === 'object') {
    const fields = value as Record<string, unknown>
    return `{${Object.keys(fields)
      .sort()
      .map((name) => `${JSON.stringify(name)}:${stable(fields[name])}`)
      .join(',')}}`
  }
  return JSON.stringify(value)
}
