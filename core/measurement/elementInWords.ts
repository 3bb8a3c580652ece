const KINDS: Record<string, string> = {
  a: 'link',
  button: 'button',
  input: 'field',
  select: 'choice',
  textarea: 'field',
  label: 'label',
  img: 'picture',
  svg: 'drawing',
  h1: 'heading',
  h2: 'heading',
  h3: 'heading',
  p: 'paragraph',
  li: 'list item',
  td: 'cell',
  form: 'form',
  section: 'section',
  summary: 'summary',
}

/** An element as a person would call it: what it is, and its label or else its id. */
export function elementInWords({ path, label }: { path: string; label: string | null }): string {
  const last = path.split(/>(?=[a-z])/).at(-1) ?? ''
  const tag = /^[\w-]+/.exec(last)?.[0] ?? ''
  const id = /#((?:[\w-]|\\.)+)/.exec(last)?.[1]
  const kind = KINDS[tag] ?? tag
  return label ? `${kind}: ${label}` : id ? `${kind} #${id}` : kind
}
