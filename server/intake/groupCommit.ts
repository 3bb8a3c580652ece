/**
 * Gathers what arrives while earlier writes are under way and writes it together, so that many callers share
 * one commit. Each caller waits for the commit of its own rows and learns of its failure.
 *
 * @param write - writes rows and returns after the commit
 * @param writers - how many writes may be under way at the same time
 * @param most - most rows of one write
 */
export function groupCommit<Row>(
  write: (rows: Row[]) => Promise<void>,
  writers = 2,
  most = 2000,
): (rows: Row[]) => Promise<void> {
  interface Waiting {
    rows: Row[]
    done: () => void
    failed: (error: unknown) => void
  }
  const waiting: Waiting[] = []
  let active = 0

  async function drain(): Promise<void> {
    active++
    while (waiting.length > 0) {
      const group: Waiting[] = []
      let size = 0
      while (waiting.length > 0 && (size === 0 || size + waiting[0]!.rows.length <= most)) {
        const next = waiting.shift()!
        size += next.rows.length
        group.push(next)
      }
      try {
        await write(group.flatMap((member) => member.rows))
        group.forEach((member) => member.done())
      } catch (error) {
        await writeAlone(group, error)
      }
    }
    active--
  }

  /** One caller's bad row must not fail the others of its group. */
  async function writeAlone(group: Waiting[], groupError: unknown): Promise<void> {
    if (group.length === 1) return group[0]!.failed(groupError)
    for (const member of group) await write(member.rows).then(member.done, member.failed)
  }

  return (rows) =>
    new Promise((done, failed) => {
      waiting.push({ rows, done, failed })
      // Leaving the current turn first lets requests that were read together be written together.
      if (active < writers) setImmediate(() => (active < writers ? drain() : undefined))
    })
}
