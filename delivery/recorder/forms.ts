import { MOST_FIELDS } from '../../core/evidence/behavior'
import type { TellBehavior } from '../../shared/intake/recorder'
import { elementPath } from '../snippet/elementPath'
import { guarded } from '../snippet/safely'
import type { Watch } from './main'
import { native, nativeDocument } from '../native'

const LONGEST = 50
const CONTROLS = 'input,select,textarea'
const NO_FIELDS = new Set(['hidden', 'submit', 'button', 'reset', 'image'])

type Field = HTMLInputElement | HTMLSelectElement | HTMLTextAreaElement

interface Visit {
  field: Field
  form: HTMLFormElement
  since: number
  firstChange: number | null
}

/**
 * Tells the forms that come into view, and each visit to one of their fields: how long it took, and whether the field
 * was empty in the end. Of what is typed it asks only whether it is nothing.
 */
export function watchForms(tell: TellBehavior): Watch {
  const seen = new WeakSet<HTMLFormElement>()
  const filled = new Set<string>()
  let visit: Visit | null = null
  const shown = new IntersectionObserver(
    guarded((entries: IntersectionObserverEntry[]) => {
      for (const { isIntersecting, target } of entries) if (isIntersecting) tellForm(target as HTMLFormElement)
    }),
  )
  const lookForForms = () => [...nativeDocument.forms].forEach((form) => seen.has(form) || shown.observe(form))
  // Pages that draw themselves bring their forms later.
  const timers = [0, 500, 2000, 5000].map((after) => setTimeout(guarded(lookForForms), after))

  function tellForm(form: HTMLFormElement): void {
    shown.unobserve(form)
    if (seen.has(form)) return
    seen.add(form)
    const fields = fieldsOf(form)
    if (fields.length === 0) return
    const told = fields
      .slice(0, MOST_FIELDS)
      .map((field) => ({ name: nameOf(field, form), label: labelOf(field), kind: field.type.slice(0, 20) }))
    tell({ type: 'form', element: elementPath(form), name: formName(form), properties: { fields: told } })
  }

  const onEnter = guarded(({ target }: FocusEvent) => {
    endVisit()
    const field = fieldOf(target)
    const form = field?.form
    if (!field || !form) return
    tellForm(form)
    visit = { field, form, since: performance.now(), firstChange: null }
  })
  const onChange = guarded(({ target }: Event) => {
    if (visit && target === visit.field) visit.firstChange ??= performance.now()
  })
  const onExit = guarded(({ target }: FocusEvent) => visit?.field === target && endVisit())

  function endVisit(): void {
    if (!visit) return
    const { field, form, since, firstChange } = visit
    visit = null
    const name = nameOf(field, form)
    const key = `${formName(form)} ${name}`
    const blank = isBlank(field, form)
    tell({
      type: 'field',
      element: elementPath(field),
      label: labelOf(field) || undefined,
      name,
      properties: {
        form: formName(form),
        time: Math.round(performance.now() - since),
        hesitation: firstChange === null ? null : Math.round(firstChange - since),
        isBlank: blank,
        isRefill: firstChange !== null && filled.has(key),
      },
    })
    if (blank) filled.delete(key)
    else if (firstChange !== null) filled.add(key)
  }

  addEventListener('focusin', onEnter, true)
  addEventListener('input', onChange, true)
  addEventListener('change', onChange, true)
  addEventListener('focusout', onExit, true)
  return {
    tell: endVisit,
    stop() {
      timers.forEach(clearTimeout)
      shown.disconnect()
      removeEventListener('focusin', onEnter, true)
      removeEventListener('input', onChange, true)
      removeEventListener('change', onChange, true)
      removeEventListener('focusout', onExit, true)
    },
  }
}

function fieldOf(target: EventTarget | null): Field | null {
  const isControl = target instanceof Element && native(target).matches(CONTROLS)
  return isControl && !NO_FIELDS.has((target as Field).type) ? (target as Field) : null
}

/** The fields of a form in their order; of buttons that exclude each other the first. */
function fieldsOf(form: HTMLFormElement): Field[] {
  // A form answers with its fields for their names, so it is asked for none of its own.
  const all = [...nativeDocument.querySelectorAll<Field>(CONTROLS)].filter(
    (each) => each.form === form && fieldOf(each),
  )
  const groups = new Set<string>()
  return all.filter((field) => {
    if (field.type !== 'radio' || !field.name) return true
    const isFirst = !groups.has(field.name)
    groups.add(field.name)
    return isFirst
  })
}

function nameOf(field: Field, form: HTMLFormElement): string {
  return (field.name || field.id || `field ${fieldsOf(form).indexOf(field) + 1}`).slice(0, LONGEST)
}

function formName(form: HTMLFormElement): string {
  const attribute = (name: string) => native(Element.prototype).getAttribute.call(form, name)
  return (attribute('id') || attribute('name') || `form ${[...nativeDocument.forms].indexOf(form) + 1}`).slice(
    0,
    LONGEST,
  )
}

/** What stands beside a field. A label may hold the field itself, whose content is left out. */
function labelOf(field: Field): string {
  const label = field.labels?.[0]
  const text = field.getAttribute('aria-label') ?? (label ? ownText(label) : null) ?? field.getAttribute('placeholder')
  const whole = (text ?? '').replace(/\s+/g, ' ').trim()
  return whole.length > LONGEST ? `${whole.slice(0, LONGEST - 1).trimEnd()}…` : whole
}

function ownText(node: Node): string {
  if (node instanceof Text) return node.data
  if (node instanceof Element && native(node).matches(`${CONTROLS},button,[contenteditable]`)) return ''
  return [...native(node).childNodes].map(ownText).join(' ')
}

function isBlank(field: Field, form: HTMLFormElement): boolean {
  if (field instanceof HTMLInputElement && /^(checkbox|radio)$/.test(field.type)) {
    const group = [...nativeDocument.querySelectorAll<HTMLInputElement>('input')].filter(
      (each) => each === field || (field.type === 'radio' && each.form === form && each.name === field.name),
    )
    return !group.some(({ checked }) => checked)
  }
  return field.value === ''
}
