const STORE = 'chunks'
/** Older ones are forgotten: nobody wants the beginning of a session whose rest is gone. */
const MOST = 200

export interface ChunkStore {
  add: (chunk: string) => Promise<number>
  oldest: () => Promise<{ id: number; chunk: string } | null>
  remove: (id: number) => Promise<void>
  clear: () => Promise<void>
}

/** Chunks in the browser's own database, or in memory where there is none. */
export function createChunkStore(key: string): ChunkStore {
  const opened = open(`vetch_recording_${key}`).catch(() => null)
  const memory = new Map<number, string>()
  let last = 0

  async function run<Result>(mode: IDBTransactionMode, work: (store: IDBObjectStore) => IDBRequest<Result>) {
    const database = await opened
    if (!database) return null
    return asPromise(work(database.transaction(STORE, mode).objectStore(STORE)))
  }

  return {
    async add(chunk) {
      const id = await run('readwrite', (store) => store.add(chunk)).catch(() => null)
      if (typeof id === 'number') {
        if (id % 50 === 0) void run('readwrite', (store) => store.delete(IDBKeyRange.upperBound(id - MOST)))
        return id
      }
      memory.set(--last, chunk)
      if (memory.size > MOST) memory.delete(memory.keys().next().value!)
      return last
    },
    async oldest() {
      const cursor = await run('readonly', (store) => store.openCursor()).catch(() => null)
      if (cursor) return { id: cursor.key as number, chunk: String(cursor.value) }
      const [first] = memory
      return first ? { id: first[0], chunk: first[1] } : null
    },
    async remove(id) {
      memory.delete(id)
      if (id > 0) await run('readwrite', (store) => store.delete(id)).catch(() => null)
    },
    async clear() {
      memory.clear()
      await run('readwrite', (store) => store.clear())
    },
  }
}

async function open(name: string): Promise<IDBDatabase> {
  const request = indexedDB.open(name, 1)
  request.onupgradeneeded = () => request.result.createObjectStore(STORE, { autoIncrement: true })
  const database = await asPromise(request)
  // An open connection would keep it from being deleted, with which everything is forgotten.
  database.onversionchange = () => database.close()
  return database
}

function asPromise<Result>(request: IDBRequest<Result>): Promise<Result> {
  return new Promise((done, failed) => {
    request.onsuccess = () => done(request.result)
    request.onerror = () => failed(request.error ?? new Error('The request failed.'))
  })
}
