import { FINDING_SOURCES, FINDING_STATES } from '~~/shared/findings/finding'

const NAMES = ['search', 'page', 'tag', 'source', 'state'] as const
type Name = (typeof NAMES)[number]

/** Which findings are looked at, kept in the address. The pages of other views have a name of their own there. */
export function useFindingFilter() {
  const route = useRoute()
  const change = useQueryChange()
  const inAddress = (name: Name) => (name === 'page' ? 'about' : name)
  const read = (name: Name) => {
    const value = route.query[inAddress(name)]
    return typeof value === 'string' ? value : ''
  }
  const isKnown = (name: Name, value: string) =>
    (name !== 'source' || FINDING_SOURCES.some((each) => each === value)) &&
    (name !== 'state' || FINDING_STATES.some((each) => each === value))
  const asked = computed(() =>
    Object.fromEntries(
      NAMES.flatMap((name) => {
        const value = read(name)
        return value && isKnown(name, value) ? [[name, value]] : []
      }),
    ),
  )
  const field = (name: Name) =>
    computed({
      get: () => read(name),
      set: (value: string) =>
        change(({ [inAddress(name)]: _, ...rest }) => (value ? { ...rest, [inAddress(name)]: value } : rest)),
    })
  return {
    asked,

    search: field('search'),
    page: field('page'),
    tag: field('tag'),
    source: field('source'),
    state: field('state'),
  }
}
