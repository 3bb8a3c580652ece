const STORED = 'vetch:tab'
const LOCK = 'vetch:tab:'
/** A page that is being reloaded lets go of its lock in less. */
const PATIENCE = 300

let own: Promise<string> | undefined

/** The id of this tab: the same after a reload, another in a duplicate of the tab. */
export function ownTab(): Promise<string> {
  own ??= claim(sessionStorage.getItem(STORED) ?? crypto.randomUUID())
  return own
}

/** Ids of tabs that are open, this one among them; null where browsers cannot tell. */
export async function openTabs(): Promise<Set<string> | null> {
  if (!navigator.locks) return null
  await ownTab()
  const { held = [] } = await navigator.locks.query()
  return new Set(held.flatMap(({ name }) => (name?.startsWith(LOCK) ? [name.slice(LOCK.length)] : [])))
}

async function claim(id: string): Promise<string> {
  const mine = !navigator.locks || (await hold(id)) ? id : crypto.randomUUID()
  if (mine !== id) await hold(mine)
  sessionStorage.setItem(STORED, mine)
  return mine
}

/** Holds a lock for as long as the page is there; answers whether it was free. */
function hold(id: string): Promise<boolean> {
  return new Promise((answer) => {
    navigator.locks
      .request(LOCK + id, { signal: AbortSignal.timeout(PATIENCE) }, () => {
        answer(true)
        return new Promise(() => {})
      })
      .catch(() => answer(false))
  })
}
