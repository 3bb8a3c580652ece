import type { News } from '~~/shared/sites/news'

/** How many notifications of a site one has not seen, kept up to date; 0 while that is not known. */
export function useUnseen(siteId: Ref<number>) {
  const api = useApi()
  const count = ref(0)
  async function reload(): Promise<void> {
    const site = siteId.value
    if (site === 0) count.value = 0
    // It stands beside everything else: what is wrong is told there.
    else
      await api('countUnseen', { site }).then(
        (reply) => site === siteId.value && (count.value = reply.count),
        () => {},
      )
  }
  watch(siteId, reload, { immediate: true })
  const isOfCount = (news: News | null) => news === null || news.kind === 'notifications' || news.kind === 'seen'
  onNews((site, news) => void (site === siteId.value && isOfCount(news) && reload()))
  return count
}
