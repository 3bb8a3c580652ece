import type { ExperimentSheet } from '~~/shared/experiments/replies'
import { ValidationError } from 'yup'
import {
  ChangeRefused,
  thingAt,
  type SheetChange,
  type SheetItem,
  type SheetList,
  type SheetPlace,
} from '~~/core/sheet/change'
import type { SheetContent } from '~~/core/sheet/content'
import { isSame } from '~~/core/sheet/isSame'
import { contentOf } from '~~/shared/experiments/experiment'
import { prepareChange } from '~~/shared/experiments/sheetChange'
import { isBegun } from './freshThings'

/** A change on its way to the server. */
export interface MadeChange {
  id: string
  change: SheetChange
}
/** A change that the server did not take, and why. */
export interface RefusedChange extends MadeChange {
  reason: string
}
/** A way back or forth: what it does, and the change that it belongs to. */
export interface Step {
  id: string
  change: SheetChange
}
/** What was typed into a field and is not saved, with what the field said when typing began. */
export interface Typed {
  value: unknown
  from: unknown
  /** The thing that the field belongs to. */
  at: SheetPlace
  field: string
}
/** A thing that is being written, and joins the sheet once it is complete. */
export interface FreshThing {
  list: SheetList
  item: SheetItem
}

/** What is kept on the device until it is saved or thrown away. */
export interface Kept {
  waiting: MadeChange[]
  refused: RefusedChange[]
  undo: Step[]
  redo: Step[]
  /** By the place and name of the field. */
  typed: Record<string, Typed>
  fresh: FreshThing[]
}

export interface SheetServer {
  read: () => Promise<ExperimentSheet>
  change: (made: MadeChange) => Promise<ExperimentSheet>
}

const FROZEN = 'The experiment was started meanwhile.'
const FIRST_WAIT = 1000
const LONGEST_WAIT = 20_000
/** Steps back that are kept. */
const MOST_STEPS = 200

export function nothingKept(): Kept {
  return { waiting: [], refused: [], undo: [], redo: [], typed: {}, fresh: [] }
}

/**
 * Work on one sheet: what the server has, and on top of it what was changed here. Changes show at once, go to the
 * server one at a time in their order, and are tried again while it cannot be reached.
 *
 * @param kept - of an earlier time; changed in place, so that a watcher can keep it
 */
export function createSheetWork(server: SheetServer, kept: Kept) {
  const served = shallowRef<ExperimentSheet | null>(null)
  /** Why nothing can be saved at the moment. */
  const trouble = ref<string | null>(null)
  let isSending = false
  let isOver = false
  let wait = FIRST_WAIT
  let timer: ReturnType<typeof setTimeout> | undefined

  /** The sheet as it will be once everything is saved. */
  const sheet = computed<ExperimentSheet | null>(() => {
    if (!served.value) return null
    let content = contentOf(served.value)
    for (const { change } of kept.waiting) content = appliedOr(content, change)
    return overlay(served.value, content)
  })
  const content = computed(() => (sheet.value ? contentOf(sheet.value) : null))

  function take(next: ExperimentSheet): void {
    if (!served.value || next.version >= served.value.version) served.value = next
    if (served.value.state !== 'draft') refuseFrozen()
  }

  /** What was being written when the experiment started cannot join it; it is told, and its fields show what runs. */
  function refuseFrozen(): void {
    const late = Object.entries(kept.typed).filter(([, { at }]) => at.part !== 'sheet')
    const changes = [
      ...late.flatMap(([, { at, field, value, from }]): SheetChange[] => {
        if (!thingAt(contentOf(served.value!), at)) return []
        return [{ do: 'set', of: at, from: { [field]: from }, to: { [field]: value } }]
      }),
      ...kept.fresh.filter(isBegun).map(({ list, item }): SheetChange => ({ do: 'add', list, item, before: null })),
    ]
    if (changes.length > 0)
      kept.refused = [
        ...kept.refused,
        ...changes.map((change) => ({ id: crypto.randomUUID(), change, reason: FROZEN })),
      ]
    for (const [key] of late) Reflect.deleteProperty(kept.typed, key)
    if (kept.fresh.length > 0) kept.fresh = []
  }

  /** Things that are neither saved nor on their way. What was typed of a thing that is gone is none of them. */
  const unsaved = computed(() => {
    const typed = Object.values(kept.typed).filter(({ at }) => content.value && thingAt(content.value, at))
    return typed.length + kept.refused.length + kept.fresh.filter(isBegun).length
  })

  /**
   * Makes a change: on screen at once, and sent.
   *
   * @throws ValidationError by field; ChangeRefused where it does not apply
   */
  function make(change: SheetChange): Step | null {
    const back = enqueue(change)
    if (!back) return null
    kept.undo = [...kept.undo, back].slice(-MOST_STEPS)
    kept.redo = []
    return back
  }

  /** Takes one change back, though others may have come after it; answers with why it could not. */
  function takeBack({ id }: Step): string | null {
    const found = kept.undo.find((each) => each.id === id)
    if (!found) return 'This has been taken back already.'
    if (found === kept.undo.at(-1)) return step('undo')
    kept.undo = kept.undo.filter((each) => each !== found)
    return attempt(() => make(found.change))
  }

  /** Takes the latest change back, or makes the latest that was taken back again; answers with why it could not. */
  function step(from: 'undo' | 'redo'): string | null {
    const latest = kept[from].at(-1)
    if (!latest) return null
    kept[from] = kept[from].slice(0, -1)
    return attempt(() => {
      const other = from === 'undo' ? 'redo' : 'undo'
      const back = enqueue(latest.change)
      if (back) kept[other] = [...kept[other], back]
    })
  }

  /** Puts a change into the line; null for one that changes nothing. */
  function enqueue(wanted: SheetChange): Step | null {
    const { change, inverse, content: next } = prepareChange(content.value!, clone(wanted))
    if (isSame(next, content.value)) return null
    const id = crypto.randomUUID()
    moveTyped(content.value!, next)
    kept.waiting = [...kept.waiting, { id, change }]
    void send()
    return { id, change: inverse }
  }

  /** What is being written stands on what its author has changed beneath it, as by undoing: nobody else did. */
  function moveTyped(before: SheetContent, after: SheetContent): void {
    for (const typed of Object.values(kept.typed)) {
      const [was, is] = [thingAt(before, typed.at), thingAt(after, typed.at)]
      if (was && is && isSame(typed.from, was[typed.field])) typed.from = clone(is[typed.field] ?? null)
    }
  }

  async function send(): Promise<void> {
    if (isSending || isOver) return
    isSending = true
    clearTimeout(timer)
    try {
      for (let next = kept.waiting[0]; next; next = kept.waiting[0]) {
        if (!(await sendOne(next)) || isOver) break
      }
    } finally {
      isSending = false
    }
  }

  /** Whether the next may be sent. */
  async function sendOne(made: MadeChange): Promise<boolean> {
    try {
      const next = await server.change(made)
      kept.waiting = kept.waiting.filter(({ id }) => id !== made.id)
      take(next)
      trouble.value = null
      wait = FIRST_WAIT
      return true
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error
      if (isPassing(error.status)) {
        trouble.value = error.message
        if (!isOver) timer = setTimeout(() => void send(), wait)
        wait = Math.min(wait * 2, LONGEST_WAIT)
        return false
      }
      await refuse(made, error)
      return true
    }
  }

  async function refuse(made: MadeChange, { status, message: reason }: ApiProblem): Promise<void> {
    kept.undo = kept.undo.filter(({ id }) => id !== made.id)
    kept.redo = kept.redo.filter(({ id }) => id !== made.id)
    await reload()
    kept.waiting = kept.waiting.filter(({ id }) => id !== made.id)
    const { change } = made
    // What was written into a field goes back there, beside what the field says by now.
    const isThere = change.do === 'set' && content.value !== null && thingAt(content.value, change.of) !== null
    if (isThere && status === 409 && served.value?.state === 'draft') {
      for (const [field, value] of Object.entries(change.to))
        kept.typed[fieldKey(placeKey(change.of), field)] = { value, from: change.from[field], at: change.of, field }
    } else kept.refused = [...kept.refused, { ...made, reason }]
  }

  async function reload(): Promise<void> {
    try {
      take(await server.read())
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error
      trouble.value = error.message
    }
  }

  return {
    kept,
    served,
    sheet,
    content,
    trouble,
    unsaved,
    take,
    make,
    step,
    takeBack,
    send,
    reload,
    /** Sends no more: whoever worked here is not signed in any more. */
    stop() {
      isOver = true
      clearTimeout(timer)
    },
  }
}
export type SheetWork = ReturnType<typeof createSheetWork>

/** Names a place in what is kept. */
export function placeKey(place: { part: string; id?: string; variant?: string }): string {
  return [place.part, place.variant, place.id].filter(Boolean).join('/')
}

export function fieldKey(place: string, field: string): string {
  return `${place}.${field}`
}

function overlay(served: ExperimentSheet, content: SheetContent): ExperimentSheet {
  const versions = new Map(served.metrics.map(({ id, versionId }) => [id, versionId]))
  const metrics = content.metrics.map((metric) => ({
    ...metric,
    denominator: metric.denominator ?? null,
    cap: metric.cap ?? null,
    windowDays: metric.windowDays ?? null,
    versionId: versions.get(metric.id) ?? 0,
  }))
  return { ...served, ...content, metrics }
}

/** Why a change could not be made; null once it is. */
function attempt(change: () => unknown): string | null {
  try {
    change()
    return null
  } catch (error) {
    if (error instanceof ChangeRefused || error instanceof ValidationError) return error.message
    throw error
  }
}

/** What does not apply any more will be refused by the server, with its reason. */
function appliedOr(content: SheetContent, change: SheetChange): SheetContent {
  try {
    return prepareChange(content, change).content
  } catch (error) {
    if (error instanceof ChangeRefused || error instanceof ValidationError) return content
    throw error
  }
}

/** The server is away, busy, or asks to sign in again: nothing is wrong with the change. */
function isPassing(status: number): boolean {
  return status === 0 || status === 401 || status === 429 || status >= 500
}

function clone<Value>(value: Value): Value {
  return JSON.parse(JSON.stringify(value)) as Value
}
