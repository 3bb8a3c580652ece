/** Too much waits to be written already. */
export class Overloaded extends Error {
  constructor() {
    super('Too many batches are waiting to be written.')
  }
}

export interface GroupCommitOptions {
  /** How many writes may be under way at the same time. */
  writers?: number
  /** Most members of one write, counted by `sizeOf`. */
  most?: number
  /** Most that may wait; more is refused at once instead of filling the memory. */
  mostWaiting?: number
  /** Whether a failure comes from the connection: then trying each caller alone would only fail as often. */
  isConnectionLost?: (error: unknown) => boolean
}

/**
 * Gathers what arrives while earlier writes are under way and writes it together, so that many callers share
 * one commit. Each caller waits for the commit of its own and learns of its failure.
 *
 * @param write - writes what several callers brought and returns after the commit
 * @param sizeOf - how much one caller brought
 */
export function groupCommit<Brought, Result>(
  write: (group: Brought[]) => Promise<Result>,
  sizeOf: (brought: Brought) => number,
  { writers = 2, most = 2000, mostWaiting = 20_000, isConnectionLost = () => false }: GroupCommitOptions = {},
): (brought: Brought) => Promise<Result> {
  interface Waiting {
    brought: Brought
    done: (result: Result) => void
    failed: (error: unknown) => void
  }
  const waiting: Waiting[] = []
  let waitingSize = 0
  let active = 0

  async function drain(): Promise<void> {
    active++
    while (waiting.length > 0) {
      const group: Waiting[] = []
      let size = 0
      while (waiting.length > 0 && (size === 0 || size + sizeOf(waiting[0]!.brought) <= most)) {
        const next = waiting.shift()!
        size += sizeOf(next.brought)
        group.push(next)
      }
      waitingSize -= size
      try {
        const result = await write(group.map(({ brought }) => brought))
        group.forEach((member) => member.done(result))
      } catch (error) {
        await writeAlone(group, error)
      }
    }
    active--
  }

  /** One caller's bad row must not fail the others of its group. */
  async function writeAlone(group: Waiting[], groupError: unknown): Promise<void> {
    if (group.length === 1 || isConnectionLost(groupError)) return group.forEach(({ failed }) => failed(groupError))
    for (const [index, member] of group.entries()) {
      try {
        member.done(await write([member.brought]))
      } catch (error) {
        member.failed(error)
        if (isConnectionLost(error)) return group.slice(index + 1).forEach(({ failed }) => failed(error))
      }
    }
  }

  return (brought) =>
    new Promise((done, failed) => {
      if (waitingSize + sizeOf(brought) > mostWaiting) return failed(new Overloaded())
      waitingSize += sizeOf(brought)
      waiting.push({ brought, done, failed })
      // Leaving the current turn first lets requests that were read together be written together.
      if (active < writers) setImmediate(() => (active < writers ? drain() : undefined))
    })
}
