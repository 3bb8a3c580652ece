import { elementKind } from './elementKind'

/** An element as a person would call it: what it is, and its label or else its id. */
export function elementInWords({ path, label }: { path: string; label: string | null }): string {
  const last = path.split(/>(?=[a-z])/).at(-1) ?? ''
  const tag = /^[\w-]+/.exec(last)?.[0] ?? ''
  const id = /#((?:[\w-]|\\.)+)/.exec(last)?.[1]
  const kind = elementKind(tag)
  return label ? `${kind}: ${label}` : id ? `${kind} #${id}` : kind
}
