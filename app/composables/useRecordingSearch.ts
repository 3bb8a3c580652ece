import { readHappenings, type Happening } from '~~/shared/evidence/recordings'

/** What recordings are searched by beside the filter, kept in the address. */
export function useRecordingSearch() {
  const route = useRoute()
  const change = useQueryChange()
  const text = (name: string) => (typeof route.query[name] === 'string' ? (route.query[name] as string) : '')
  const happened = computed(() => readHappenings(text('happened')) ?? [])
  const seconds = computed(() => Math.max(0, Math.floor(Number(text('seconds')) || 0)))
  const set = (name: 'happened' | 'seconds', value: string) =>
    change(({ [name]: _, ...rest }) => (value && value !== '0' ? { ...rest, [name]: value } : rest))
  return {
    happened,
    seconds,
    asked: computed(() => ({
      ...(happened.value.length > 0 ? { happened: happened.value.join(',') } : {}),
      ...(seconds.value > 0 ? { seconds: seconds.value } : {}),
    })),
    turn(what: Happening): void {
      const isThere = happened.value.includes(what)
      set('happened', (isThere ? happened.value.filter((each) => each !== what) : [...happened.value, what]).join(','))
    },
    last: (value: number) => set('seconds', String(value)),
  }
}
