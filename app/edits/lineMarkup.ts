/** What a person may set in a line; other words for the same are written as these. */
const TAGS: Record<string, string> = { strong: 'b', em: 'i', strike: 's', del: 's' }
const KEPT = new Set(['b', 'i', 'u', 's', 'small', 'sub', 'sup', 'mark', 'code'])
const BLOCKS = new Set(['div', 'p'])

/** The markup of a line that is being written, as `core/edits/richText.ts` has it. Whatever else was pasted is its text. */
export function lineMarkup(root: Node): string {
  return [...root.childNodes].map(write).join('')
}

function write(node: ChildNode): string {
  if (node.nodeType === Node.TEXT_NODE) return escaped(node.textContent!)
  if (!(node instanceof Element)) return ''
  const inside = lineMarkup(node)
  const tag = TAGS[node.localName] ?? node.localName
  const part = node.getAttribute('data-part')
  if (part !== null && /^\d{1,3}$/.test(part)) return `<span data-part="${part}">${inside}</span>`
  if (tag === 'br') return '<br>'
  if (tag === 'a') return `<a href="${escaped(node.getAttribute('href') ?? '')}">${inside}</a>`
  // A new line is begun by a block of its own.
  if (BLOCKS.has(tag)) return `${node.previousSibling ? '<br>' : ''}${inside === '<br>' ? '' : inside}`
  return KEPT.has(tag) && inside ? `<${tag}>${inside}</${tag}>` : inside
}

function escaped(text: string): string {
  return text.replace(/[&<>"]/g, (character) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[character]!)
}
