/** What asks for news from now on, each time it is called. */
type Follow<News> = () => () => Promise<News[]>
type Listener<News> = (news: News[]) => void

interface Tail<News> {
  listeners: Set<Listener<News>>
  end: () => void
}

/**
 * Follows what many may look at: whatever belongs to one key is asked for once, however many listen.
 *
 * @param pause - between two askings, in ms
 * @param onError - told what goes wrong; it is asked again all the same
 * @returns listens to a key until the function that it returns is called; `follow` begins where nobody listens yet
 */
export function sharedTails<News>(pause: number, onError: (error: unknown) => void) {
  const tails = new Map<string, Tail<News>>()
  return (key: string, follow: Follow<News>, listener: Listener<News>): (() => void) => {
    const tail = tails.get(key) ?? begin(follow, pause, onError)
    tails.set(key, tail)
    tail.listeners.add(listener)
    return () => {
      tail.listeners.delete(listener)
      if (tail.listeners.size > 0 || tails.get(key) !== tail) return
      tails.delete(key)
      tail.end()
    }
  }
}

function begin<News>(follow: Follow<News>, pause: number, onError: (error: unknown) => void): Tail<News> {
  const listeners = new Set<Listener<News>>()
  const next = follow()
  let isOver = false
  const tell = async () => {
    if (isOver) return
    const news = await next().catch((error: unknown) => {
      onError(error)
      return []
    })
    if (isOver) return
    listeners.forEach((listener) => listener(news))
    setTimeout(() => void tell(), pause)
  }
  void tell()
  return { listeners, end: () => (isOver = true) }
}
