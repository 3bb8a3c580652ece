import { spawn } from 'node:child_process'
import { once } from 'node:events'

/**
 * Does work while no other process of this machine does the same: others wait. Whoever ends in the middle, however that
 * is, holds up nobody.
 *
 * @param lock - file that stands for the work
 */
export async function alone<Result>(lock: string, work: () => Promise<Result>): Promise<Result> {
  // It holds the lock for as long as this process holds its input open.
  const holder = spawn('flock', [lock, 'sh', '-c', 'echo held; cat > /dev/null'], {
    stdio: ['pipe', 'pipe', 'inherit'],
  })
  const ended = once(holder, 'exit')
  await Promise.race([once(holder.stdout, 'data'), ended])
  try {
    return await work()
  } finally {
    holder.stdin.end()
    await ended
  }
}
