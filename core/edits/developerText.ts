import { isOfElement, type Edit } from './content'
import { describeEdit } from './edit'
import { describeWidths } from './widths'

/** What is to be built into the site itself. */
export interface ServedChange {
  name: string
  /** Where and for whom, in words. */
  pages: string
  audience: string
  variants: readonly {
    name: string
    /** Of a wording, whom it is for; null for everybody who is left. */
    audience: string | null
    edits: readonly Edit[]
  }[]
}

/**
 * A text for developers, in Markdown: what each variant changes, element by element, with the selector, and what was
 * there before beside what is there after.
 *
 * @returns edits that are switched off are left out
 */
export function developerText({ name, pages, audience, variants }: ServedChange): string {
  const parts = variants.flatMap((variant) => [
    `## ${inline(variant.name)}`,
    ...(variant.audience === null ? [] : [`For visitors: ${inline(variant.audience)}.`]),
    ...variant.edits.filter(({ isOff }) => !isOff).flatMap(editLines),
  ])
  const all = [
    `# ${inline(name)}`,
    `- Pages: ${inline(pages)}\n- Visitors: ${inline(audience)}`,
    'Build this into the site. Vetch makes these changes in the browser until then.',
    ...parts,
  ]
  return `${all.join('\n\n')}\n`
}

function editLines(edit: Edit, index: number): string[] {
  const places = [
    ...(isOfElement(edit) ? [`- Element: ${code(edit.selector)}`] : []),
    ...(edit.kind === 'move' ? [`- Goes ${edit.place} ${code(edit.to)}`] : []),
    ...(edit.kind === 'insert' ? [`- Goes ${edit.place} that element`] : []),
    ...(edit.kind === 'attribute' ? [`- Attribute: ${code(edit.name)}`] : []),
    ...(edit.page ? [`- Only on: ${inline(edit.page.value)}`] : []),
    ...(edit.widths ? [`- Only in windows ${describeWidths(edit.widths)}`] : []),
  ]
  const title = edit.title?.trim()
  return [
    `### ${index + 1}. ${inline(title ? `${title}: ${describeEdit(edit)}` : describeEdit(edit))}`,
    ...(places.length > 0 ? [places.join('\n')] : []),
    ...('original' in edit ? block('Before', edit, edit.original) : []),
    ...('value' in edit ? block('After', edit, edit.value) : []),
  ]
}

type Held = Extract<Edit, { value: unknown }>['value'] | Extract<Edit, { original: unknown }>['original']

const LANGUAGES: Partial<Record<Edit['kind'], string>> = {
  richText: 'html',
  html: 'html',
  insert: 'html',
  style: 'css',
  css: 'css',
  script: 'js',
}

function block(label: string, edit: Edit, held: Held): string[] {
  if (held === null) return [`${label}: none`]
  const text = textOf(edit, held)
  // A fence that is longer than any within keeps what it holds from ending it.
  const longest = Math.max(2, ...(text.match(/`+/g) ?? []).map((run) => run.length))
  const fence = '`'.repeat(longest + 1)
  return [`${label}:`, `${fence}${LANGUAGES[edit.kind] ?? 'text'}\n${text}\n${fence}`]
}

function textOf(edit: Edit, held: NonNullable<Held>): string {
  if (typeof held === 'string') return held
  if (edit.kind === 'image') {
    const { address, alt } = held as typeof edit.value
    return `${address}\n${alt}`
  }
  const declarations = Object.entries(held).map(([property, value]) => `  ${property}: ${value};`)
  return [`${isOfElement(edit) ? edit.selector : ''} {`, ...declarations, '}'].join('\n')
}

/** In one line of Markdown: nothing in it begins markup or a line of its own. */
function inline(text: string): string {
  return text.replace(/\s+/g, ' ').replace(/[\\`*_[\]<>#|]/g, '\\$&')
}

function code(text: string): string {
  const longest = Math.max(0, ...(text.match(/`+/g) ?? []).map((run) => run.length))
  const fence = '`'.repeat(longest + 1)
  const space = text.startsWith('`') || text.endsWith('`') ? ' ' : ''
  return `${fence}${space}${text.replace(/\s+/g, ' ')}${space}${fence}`
}
