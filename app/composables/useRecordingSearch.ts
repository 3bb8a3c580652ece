import { readHappenings, readPlan, type Happening } from '~~/shared/recordings/recording'

/** What recordings are searched by beside the filter, kept in the address. */
export function useRecordingSearch() {
  const route = useRoute()
  const change = useQueryChange()
  const text = (name: string) => (typeof route.query[name] === 'string' ? (route.query[name] as string) : '')
  const happened = computed(() => readHappenings(text('happened')) ?? [])
  const seconds = computed(() => Math.max(0, Math.floor(Number(text('seconds')) || 0)))
  const clicked = computed({ get: () => text('clicked'), set: (value: string) => set('clicked', value.trim()) })
  /** The step of a funnel after which they left; null where nobody asks for that. */
  const left = computed(() => {
    const plan = readPlan(text('plan'))
    const step = Number(text('left') || NaN)
    return plan?.steps[step] ? { step, name: plan.steps[step].name } : null
  })
  const set = (name: 'happened' | 'seconds' | 'clicked', value: string) =>
    change(({ [name]: _, ...rest }) => (value && value !== '0' ? { ...rest, [name]: value } : rest))
  return {
    happened,
    seconds,
    clicked,
    left,
    forgetLeft: () => change(({ plan: _, left: __, ...rest }) => rest),
    asked: computed(() => ({
      ...(happened.value.length > 0 ? { happened: happened.value.join(',') } : {}),
      ...(seconds.value > 0 ? { seconds: seconds.value } : {}),
      ...(clicked.value ? { clicked: clicked.value } : {}),
      ...(left.value ? { plan: text('plan'), left: left.value.step } : {}),
    })),
    turn(what: Happening): void {
      const isThere = happened.value.includes(what)
      set('happened', (isThere ? happened.value.filter((each) => each !== what) : [...happened.value, what]).join(','))
    },
    last: (value: number) => set('seconds', String(value)),
  }
}
