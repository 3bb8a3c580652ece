import { defineStore } from 'pinia'
import type { SheetMetric } from '~~/core/sheet/content'
import type { SplitSettlementInput } from '~~/shared/experiments/splitSettlement'
import type { EndInput } from '~~/shared/experiments/experiment'
import type { News } from '~~/shared/sites/news'
import { openKept } from '~/sheets/keptWork'
import { createSheetWork, type SheetWork } from '~/sheets/sheetWork'

const TRANSITIONS = {
  pause: 'pauseExperiment',
  resume: 'resumeExperiment',
} as const
export type Transition = 'start' | keyof typeof TRANSITIONS

/** The sheets that were opened, each with its own work; one of them is shown. */
export const useSheetStore = defineStore('sheet', () => {
  const api = useApi()
  const account = useAccountStore()
  const works = new Map<string, SheetWork>()
  const work = shallowRef<SheetWork | null>(null)
  const sheet = computed(() => work.value?.sheet.value ?? null)
  /** Names the open sheet in calls. */
  const place = computed(() => ({ site: sheet.value?.siteId ?? 0, experiment: sheet.value?.id ?? 0 }))
  /** Something of the sheet is not on the server. */
  const isUnsaved = computed(() => !!work.value && work.value.kept.waiting.length + work.value.unsaved.value > 0)

  // What one person has not saved is not sent by the next: it stays on the device until they come back.
  watch(
    () => account.view?.person?.email,
    () => {
      works.forEach(({ stop }) => stop())
      works.clear()
      work.value = null
    },
    { flush: 'sync' },
  )

  async function open(site: number, experiment: number): Promise<void> {
    const name = `${site} ${experiment}`
    const known = works.get(name)
    work.value = known ?? null
    if (known) return known.reload()
    const at = { site, experiment }
    const made = createSheetWork(
      {
        read: () => api('readExperiment', at),
        change: (change) => api('changeExperiment', { ...at, body: { ...change } }),
      },
      await openKept(account.view?.person?.email ?? '', site, experiment),
    )
    made.take(await api('readExperiment', at))
    works.set(name, made)
    work.value = made
    void made.send()
  }

  /** Reads again what was changed elsewhere. */
  async function hear(site: number, news: News | null): Promise<void> {
    if (news && news.kind !== 'sheet') return
    const known = news ? works.get(`${site} ${news.experiment}`) : work.value
    if (known && (!news || news.version > (known.served.value?.version ?? 0))) await known.reload()
  }

  /** Adds a metric to a started experiment. */
  async function addMetric(metric: SheetMetric): Promise<void> {
    const { version } = work.value!.served.value!
    work.value!.take(await api('addMetric', { ...place.value, body: { version, metric } }))
  }

  /** Ends the experiment, and serves what is kept where that is wanted. */
  async function end(ending: EndInput): Promise<void> {
    work.value!.take(await api('endExperiment', { ...place.value, body: ending }))
  }

  async function move(transition: Transition): Promise<void> {
    const { take, served } = work.value!
    take(
      transition === 'start'
        ? await api('startExperiment', { ...place.value, body: { version: served.value!.version } })
        : await api(TRANSITIONS[transition], place.value),
    )
  }

  async function advanceRamp(): Promise<void> {
    work.value!.take(await api('advanceRamp', place.value))
  }

  async function schedule(times: { start: string | null; end: string | null }): Promise<void> {
    work.value!.take(await api('scheduleExperiment', { ...place.value, body: times }))
  }

  /** Names the cause of a split that is off; leads to the copy where it is begun anew. */
  async function settleSplit(input: SplitSettlementInput): Promise<number | null> {
    const { copy } = await api('settleSplit', { ...place.value, body: input })
    await work.value!.reload()
    return copy
  }

  async function reopenSplit(): Promise<void> {
    await api('reopenSplit', place.value)
    await work.value!.reload()
  }

  if (import.meta.client) useEventListener(window, 'online', () => works.forEach(({ send }) => void send()))

  return {
    sheet,
    work,
    place,
    isUnsaved,
    open,
    hear,
    addMetric,
    move,
    advanceRamp,
    schedule,
    end,
    settleSplit,
    reopenSplit,
  }
})
