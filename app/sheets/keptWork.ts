import { isBegun } from './freshThings'
import { openTabs, ownTab } from './ownTab'
import { nothingKept, type Kept } from './sheetWork'

const PREFIX = 'vetch:sheet'

/**
 * What a person has not saved of a sheet on this device, kept from now on. What tabs have left behind that are closed
 * by now is taken over.
 */
export async function openKept(person: string, siteId: number, experimentId: number): Promise<Kept> {
  const base = `${PREFIX}:${person}:${siteId}:${experimentId}:`
  const name = base + (await ownTab())
  const open = await openTabs()
  const left = Object.keys(localStorage).filter(
    (each) => each !== name && each.startsWith(base) && open !== null && !open.has(each.slice(base.length)),
  )
  const kept = reactive([name, ...left].map(read).reduce(together))
  const keep = () => {
    if (isEmpty(kept)) localStorage.removeItem(name)
    else store(name, kept)
  }
  keep()
  left.forEach((each) => localStorage.removeItem(each))
  // At once: the page may be gone in the next moment.
  watch(kept, keep, { deep: true, flush: 'sync' })
  return kept
}

/** A storage that is full takes no more: the work goes on in memory. */
function store(name: string, kept: Kept): void {
  try {
    localStorage.setItem(name, JSON.stringify(kept))
  } catch (error) {
    if (!(error instanceof DOMException)) throw error
    console.warn('What is not saved cannot be kept on this device: its storage is full.')
  }
}

function read(name: string): Kept {
  try {
    return { ...nothingKept(), ...(JSON.parse(localStorage.getItem(name) ?? '{}') as Partial<Kept>) }
  } catch {
    return nothingKept()
  }
}

function together(own: Kept, other: Kept): Kept {
  return {
    waiting: [...own.waiting, ...other.waiting],
    refused: [...own.refused, ...other.refused],
    undo: [...other.undo, ...own.undo],
    redo: own.redo,
    typed: { ...other.typed, ...own.typed },
    fresh: [...own.fresh, ...other.fresh].filter(isBegun),
  }
}

function isEmpty(kept: Kept): boolean {
  return Object.values(kept).every((each) => Object.keys(each as object).length === 0)
}
