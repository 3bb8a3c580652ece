import type { SeenForm } from './behavior'
import { quartiles, type Quartiles } from './quartiles'
import { eachSession } from './sessionRuns'
import { FIELD_BLANK, FIELD_REFILL, KIND, NO_CHANGE, type Visits } from './visits'

/** A form of a page, found by what browsers tell of it. */
export interface FormFigures {
  page: string
  form: string
  /** Sessions that saw it, began to fill it, and sent it. */
  seen: number
  /** Visitors who saw it. */
  visitors: number
  begun: number
  sent: number
}

export interface FieldFigures {
  name: string
  label: string
  kind: string
  /** Sessions that were in it. */
  reached: number
  /** ms in it in a session, all visits together, and ms before its first change. */
  time: Quartiles | null
  hesitation: Quartiles | null
  /** Sessions that filled it again, and that left it empty at last. */
  refilled: number
  blank: number
  /** Sessions that did not send the form and were in this field last. */
  left: number
}

export interface FormReport extends FormFigures {
  /** In the order in which the form has them; those it does not have any more come last. */
  fields: FieldFigures[]
}

/** What a session did with one form. */
export interface FormSession {
  isBegun: boolean
  isSent: boolean
  last: string | null
  fields: Map<string, { time: number; hesitation: number | null; isRefilled: boolean; isBlank: boolean }>
}

interface FormTally extends FormFigures {
  lastVisitor: number
  fields: Map<string, FieldTally>
  latest: { at: number; form: SeenForm | null }
}
interface FieldTally {
  times: number[]
  hesitations: number[]
  refilled: number
  blank: number
  left: number
  label: string
}

/** The forms of all pages, those that most sessions saw first. */
export function formReports(visits: Visits, selected: Uint8Array): FormReport[] {
  const tallies = new Map<string, FormTally>()
  eachFormSession(visits, selected, (page, form, session, { seen, labels }, number) => {
    const tally = tallyOf(tallies, page, form)
    if (seen.at >= tally.latest.at) tally.latest = seen
    addSession(tally, session)
    const visitor = visits.sessionVisitor.values[number]!
    // Sessions of one visitor follow each other.
    if (visitor !== tally.lastVisitor) tally.visitors++
    tally.lastVisitor = visitor
    labels.forEach((label, field) => (fieldTally(tally, field).label = label))
  })
  return [...tallies.values()]
    .map(reportOf)
    .sort((a, b) => b.seen - a.seen || (a.page + a.form < b.page + b.form ? -1 : 1))
}

function tallyOf(tallies: Map<string, FormTally>, page: string, form: string): FormTally {
  const key = `${page} ${form}`
  let tally = tallies.get(key)
  if (!tally) {
    tally = {
      page,
      form,
      seen: 0,
      visitors: 0,
      lastVisitor: -1,
      begun: 0,
      sent: 0,

      fields: new Map(),
      latest: { at: -Infinity, form: null },
    }
    tallies.set(key, tally)
  }
  return tally
}

/** What a session told of a form beside what was done with it. */
interface ToldForm {
  /** Its fields, as they were last seen, and when. */
  seen: { at: number; form: SeenForm | null }
  /** Labels of the fields that were visited. */
  labels: Map<string, string>
}

/** Calls with each form of each selected session: what was done with it. */
export function eachFormSession(
  visits: Visits,
  selected: Uint8Array,
  work: (page: string, form: string, done: FormSession, told: ToldForm, session: number) => void,
): void {
  const pageOf = visits.pageOfAddress.values
  eachSession(visits, selected, (block, first, end, session) => {
    const { kind, address, element, name, x, y, detail, at, extra } = block
    const own = new Map<string, { page: number; form: string; done: FormSession; told: ToldForm }>()
    /** Forms by their elements: what is sent is told by its element alone. */
    const byElement = new Map<string, string>()
    const find = (page: number, form: string) => {
      const key = `${page} ${form}`
      let found = own.get(key)
      if (!found) {
        const done: FormSession = { isBegun: false, isSent: false, last: null, fields: new Map() }
        own.set(key, (found = { page, form, done, told: { seen: { at: -Infinity, form: null }, labels: new Map() } }))
      }
      return found
    }
    for (let row = first; row < end; row++) {
      const page = pageOf[address[row]!]!
      if (kind[row] === KIND.form) {
        const form = visits.names.texts[name[row]!]!
        find(page, form).told.seen = { at: at[row]!, form: visits.extras[extra[row]!] as SeenForm | null }
        byElement.set(`${page} ${element[row]}`, form)
      } else if (kind[row] === KIND.field) {
        const [form, field] = fieldNames(visits.names.texts[name[row]!]!)
        const { done, told } = find(page, form)
        noteVisit(done, field, x[row]!, y[row]!, detail[row]!)
        const label = visits.labels.get(element[row]!)
        if (label !== undefined) told.labels.set(field, label)
      } else if (kind[row] === KIND.submit && own.size > 0) {
        const form = byElement.get(`${page} ${element[row]}`)
        if (form !== undefined) find(page, form).done.isSent = true
      }
    }
    own.forEach(({ page, form, done, told }) => work(visits.pages.texts[page]!, form, done, told, session))
  })
}

/** A field is told under its form's name and its own. */
export const FIELD_SEPARATOR = '\n'
function fieldNames(text: string): [form: string, field: string] {
  const at = text.indexOf(FIELD_SEPARATOR)
  return [text.slice(0, at), text.slice(at + 1)]
}

function noteVisit(session: FormSession, field: string, time: number, hesitation: number, flags: number): void {
  session.isBegun = true
  session.last = field
  const before = session.fields.get(field)
  const first = hesitation === NO_CHANGE ? null : hesitation
  session.fields.set(field, {
    time: (before?.time ?? 0) + time,
    hesitation: before?.hesitation ?? first,
    isRefilled: (before?.isRefilled ?? false) || (flags & FIELD_REFILL) !== 0,
    isBlank: (flags & FIELD_BLANK) !== 0,
  })
}

function fieldTally({ fields }: FormTally, name: string): FieldTally {
  let field = fields.get(name)
  if (!field) fields.set(name, (field = { times: [], hesitations: [], refilled: 0, blank: 0, left: 0, label: '' }))
  return field
}

function addSession(tally: FormTally, { isBegun, isSent, last, fields }: FormSession): void {
  tally.seen++
  if (isBegun) tally.begun++
  if (isSent) tally.sent++
  for (const [name, { time, hesitation, isRefilled, isBlank }] of fields) {
    const field = fieldTally(tally, name)
    field.times.push(time)
    if (hesitation !== null) field.hesitations.push(hesitation)
    if (isRefilled) field.refilled++
    if (isBlank) field.blank++
    if (!isSent && last === name) field.left++
  }
}

function reportOf({ page, form, seen, visitors, begun, sent, fields, latest }: FormTally): FormReport {
  const known = latest.form?.fields ?? []
  const gone = [...fields.keys()].filter((name) => !known.some((each) => each.name === name)).sort()
  const listed = [...known, ...gone.map((name) => ({ name, label: '', kind: '' }))]
  return {
    page,
    form,
    seen,
    visitors,
    begun,
    sent,
    fields: listed.map(({ name, label, kind }) => {
      const field = fields.get(name)
      return {
        name,
        label: label || field?.label || name,
        kind,
        reached: field?.times.length ?? 0,

        time: quartiles(field?.times ?? []),
        hesitation: quartiles(field?.hesitations ?? []),

        refilled: field?.refilled ?? 0,
        blank: field?.blank ?? 0,
        left: field?.left ?? 0,
      }
    }),
  }
}
