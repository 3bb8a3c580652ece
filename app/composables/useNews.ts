import type { News } from '~~/shared/sites/news'

/** What has changed on a site; null when some may have been missed. */
const heard = createEventHook<[site: number, news: News | null]>()

/** Calls for what changes on the sites that are open, for as long as the component is there. */
export const onNews = heard.on

/**
 * Listens to a site's news while the component is there. Browsers hold few connections to one place, so that one tab
 * listens for all of them, and tells the others.
 */
export function useNewsOf(siteId: Ref<number>): void {
  let stop = () => {}
  watch(
    siteId,
    (site) => {
      stop()
      stop = site ? listen(site) : () => {}
    },
    { immediate: true },
  )
  onScopeDispose(() => stop())
}

function listen(site: number): () => void {
  const name = `vetch:news:${site}`
  const channel = new BroadcastChannel(name)
  const tell = (news: News | null) => void heard.trigger(site, news)
  channel.onmessage = ({ data }: MessageEvent<News | null>) => tell(data)
  const over = new AbortController()
  const open = () =>
    new Promise<void>((closed) => {
      const source = new EventSource(`/api/sites/${site}/news`)
      const toAll = (news: News | null) => {
        tell(news)
        channel.postMessage(news)
      }
      let isFirst = true
      source.onopen = () => {
        if (!isFirst) toAll(null)
        isFirst = false
      }
      source.onmessage = ({ data }) => toAll(JSON.parse(String(data)) as News)
      over.signal.addEventListener('abort', () => {
        source.close()
        closed()
      })
    })
  if (navigator.locks) navigator.locks.request(name, { signal: over.signal }, open).catch(() => {})
  else void open()
  return () => {
    over.abort()
    channel.close()
  }
}
