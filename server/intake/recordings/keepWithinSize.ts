const EVERY = 10_000

/**
 * Keeps what sites keep of recordings within its size while they come, and not at night only: of each site that got
 * one, what is too much is forgotten a few seconds later.
 *
 * @param forget - deletes what a site has too much
 * @param isAway - whether an error says that the database is away; then the next chunk asks again
 */
export function keepWithinSize(
  forget: (siteId: number) => Promise<void>,
  isAway: (error: unknown) => boolean,
  every = EVERY,
): (siteId: number) => void {
  const due = new Set<number>()
  async function look(siteId: number): Promise<void> {
    due.delete(siteId)
    await forget(siteId).catch((error: unknown) => {
      if (!isAway(error)) console.error(error)
    })
  }
  return (siteId) => {
    if (due.has(siteId)) return
    due.add(siteId)
    setTimeout(() => void look(siteId), every).unref()
  }
}
