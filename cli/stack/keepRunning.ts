import type { Cluster } from './cluster'

/** Starts the database again should it go away; nothing acknowledged is lost by that. */
export function keepRunning(cluster: Cluster): () => void {
  const timer = setInterval(() => {
    if (cluster.isRunning()) return
    console.error('The database went away; starting it again.')
    try {
      cluster.restart()
    } catch (error) {
      console.error(error instanceof Error ? error.message : error)
    }
  }, 1000)
  return () => clearInterval(timer)
}
