import { BANDS, type FieldVisit, type Reading, type SeenForm } from '../../core/evidence/behavior'
import { ELEMENTS, FORMS, type DemoForm } from './elements'
import type { PageEvent, PageVisit } from './journey'
import { heightOf } from './places'
import type { Random } from './random'
import type { Visitor } from './visitor'

/** How far down a page people come who do not leave it at once: a quarter reach its end, most stop halfway. */
const DEPTHS = { 0: 22, 0.35: 24, 0.55: 29, 0.8: 12, 1: 13 }
/** Elements that look as if they did something. */
const IDLE_ELEMENTS: ReadonlySet<string> = new Set([ELEMENTS.headline.element, ELEMENTS.scene.element])
const RAGE = 0.12

/**
 * What the recorder tells of a page that a simulated visitor has seen: reading, forms with their fields, clicks that do
 * nothing. What is wrong with the demo site is in here: phone visitors hesitate at the length of the vehicle, and many
 * leave there.
 */
export function behaviorOn(random: Random, page: PageVisit, visitor: Visitor): PageEvent[] {
  return [...idleClicks(random, page), ...formEvents(random, page, visitor), readingOf(random, page, visitor)]
}

function idleClicks(random: Random, { events }: PageVisit): PageEvent[] {
  return events
    .filter(({ type, element }) => type === 'click' && IDLE_ELEMENTS.has(element ?? ''))
    .flatMap(({ after, element, at }): PageEvent[] => {
      const dead: PageEvent = { type: 'dead', after: after + 1000, element, at }
      if (!random.chance(RAGE)) return [dead]
      const clicks = 3 + Math.floor(random.uniform() * 3)
      return [dead, { type: 'rage', after: after + 2000, element, at, properties: { clicks } }]
    })
}

function readingOf(random: Random, { path, stay, events }: PageVisit, { device, screen }: Visitor): PageEvent {
  const [, windowHeight] = screen
  const height = heightOf(path.split('?')[0]!, device, windowHeight)
  const lowestClick = Math.max(0, ...events.map(({ at }) => at?.[1] ?? 0))
  const wanted = windowHeight + (height - windowHeight) * Number(random.pick(DEPTHS))
  const depth = Math.round(Math.min(height, Math.max(wanted, Math.min(lowestClick, height))))
  const seen = Math.max(100, stay - 60)
  // Down in equal steps: half the time at the top, the rest on the way.
  const steps = 8
  const bands = new Array<number>(BANDS).fill(0)
  for (let step = 0; step < steps; step++) {
    const top = ((depth - windowHeight) * Math.max(0, step - steps / 2 + 1)) / (steps / 2)
    for (let band = 0; band < BANDS; band++) {
      const middle = ((band + 0.5) * height) / BANDS
      if (middle >= top && middle <= top + windowHeight) bands[band]! += Math.round(seen / steps)
    }
  }
  const properties: Reading = { seen, depth, height, bands }
  return { type: 'reading', after: stay - 10, properties }
}

function formEvents(random: Random, page: PageVisit, visitor: Visitor): PageEvent[] {
  const path = page.path.split('?')[0]!
  return FORMS.filter((form) => form.path === path).flatMap((form) => {
    const seen: SeenForm = { fields: form.fields.map(({ name, label, kind }) => ({ name, label, kind })) }
    const shown: PageEvent = { type: 'form', after: 300, element: form.element, name: form.name, properties: seen }
    return [shown, ...fieldVisits(random, page, form, visitor)]
  })
}

/** Those who send a form have been through its fields; of the others some have begun, and leave at one of them. */
function fieldVisits(random: Random, { events, stay }: PageVisit, form: DemoForm, { device }: Visitor): PageEvent[] {
  const isSent = events.some(({ type, element }) => type === 'submit' && element === form.element)
  const isPhone = device === 'phone'
  if (!isSent && !random.chance(form.isBegun)) return []
  const weight = (field: DemoForm['fields'][number]) => (isPhone ? (field.onPhone ?? field.weight) : field.weight)
  const last = isSent ? form.fields.length : 1 + lastField(random, form, isPhone)
  const visited = form.fields.slice(0, last).filter(({ isSkipped }) => !isSkipped || !random.chance(isSkipped))
  const drawn = visited.map((field) => weight(field) * random.between(0.5, 1.6))
  const total = drawn.reduce((sum, each) => sum + each, 0)
  // Whoever goes has the page before them for a moment longer.
  const share = Math.min(1, (stay * 0.8) / (total * 1000))
  let after = stay * 0.08
  return visited.flatMap((field, index): PageEvent[] => {
    const isHard = isPhone && field.onPhone !== undefined
    const isLast = index === visited.length - 1
    const time = Math.round(drawn[index]! * 1000 * share)
    const isBlank = (!isSent && isLast && random.chance(isHard ? 0.7 : 0.3)) || random.chance(isHard ? 0.12 : 0.01)
    const visit: FieldVisit = {
      form: form.name,
      time,
      hesitation: isBlank ? null : Math.round(time * random.between(0.2, isHard ? 0.8 : 0.5)),
      isBlank,
      isRefill: false,
    }
    const told = (properties: FieldVisit): PageEvent => {
      after += properties.time
      return {
        type: 'field',
        after: Math.round(after),
        element: field.element,

        label: field.label,
        name: field.name,
        properties,
      }
    }
    const first = told(visit)
    if (isBlank || !random.chance(isHard ? 0.3 : 0.04)) return [first]
    return [first, told({ ...visit, time: Math.round(time / 3), hesitation: Math.round(time / 8), isRefill: true })]
  })
}

function lastField(random: Random, { fields }: DemoForm, isPhone: boolean): number {
  const hard = fields.findIndex(({ onPhone }) => onPhone !== undefined)
  if (isPhone && hard >= 0 && random.chance(0.72)) return hard
  return Math.floor(random.uniform() * fields.length)
}
