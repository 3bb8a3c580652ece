import type { VariantPictures } from '~~/shared/pictures/replies'

const WHILE_WORKING = 1500
/** Saving a change and the pause before the worker begins. */
const AFTER_CHANGE = 3000

/**
 * The pictures of an experiment's variants, read again while they are being taken.
 *
 * @param changing - what may make others necessary: once it changes, they are read again, too
 */
export function useVariantPictures(place: () => { site: number; experiment: number }, changing: () => unknown) {
  const api = useApi()
  const pictures = shallowRef<VariantPictures | null>(null)
  const problem = ref<string | null>(null)
  const isUnread = ref(false)
  const isWorking = computed(() => ['waiting', 'running'].includes(pictures.value?.job?.state ?? ''))

  async function read(): Promise<void> {
    try {
      pictures.value = await api('listVariantPictures', place())
      isUnread.value = false
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error
      // What is there stays to be seen; the next look may succeed.
      isUnread.value = !pictures.value
    }
  }
  async function take(asked: { language: string; isAnew: boolean }): Promise<void> {
    problem.value = null
    try {
      pictures.value = await api('takeVariantPictures', { ...place(), body: asked })
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error
      problem.value = error.message
    }
  }
  async function cancel(): Promise<void> {
    const job = pictures.value?.job
    // A job that has ended meanwhile cannot be canceled, and the list says so.
    if (job) await api('cancelJob', { site: place().site, job: job.id }).catch(() => null)
    await read()
  }

  onMounted(read)
  useIntervalFn(() => isWorking.value && read(), WHILE_WORKING)
  watchDebounced(changing, read, { debounce: AFTER_CHANGE })
  return { pictures, problem, isUnread, isWorking, read, take, cancel }
}
