import PgBoss from 'pg-boss'

/** Brings an experiment's numbers in line with what was changed. */
export interface RefoldJob {
  siteId: number
  experimentId: number
  /** Row of `background_job` that shows how far it is. */
  jobId: number
}

/** Takes the pictures of an experiment's variants that are missing or out of date. */
export interface PicturesJob {
  siteId: number
  experimentId: number
  jobId: number
  /** What the browser says that its person reads. */
  language: string
  /** Whether nobody asked: a change of a draft did. Nothing is taken once it has started. */
  ofDraft: boolean
}

export const REFOLD = 'refold'
export const PICTURES = 'pictures'
/** Once a night: what is old goes, what is needed next month is made. */
export const HOUSEKEEPING = 'housekeeping'
const QUEUES = [REFOLD, PICTURES, HOUSEKEEPING]

/** A connection to the queue. Only the worker keeps it in order; others send. */
export async function openQueue(url: string, role: 'worker' | 'sender'): Promise<PgBoss> {
  const isWorker = role === 'worker'
  const queue = new PgBoss({
    connectionString: url,
    max: isWorker ? 4 : 2,
    supervise: isWorker,
    schedule: isWorker,
    migrate: true,
  })
  // Without a listener a lost connection would end the process; the next call tries again.
  queue.on('error', () => {})
  await queue.start()
  for (const name of QUEUES) await queue.createQueue(name)
  return queue
}
