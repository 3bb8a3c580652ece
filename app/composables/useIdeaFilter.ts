import type { HypothesisSummary } from '~~/shared/hypotheses/replies'
import { STAGES } from '~~/shared/hypotheses/hypothesis'

const NAMES = ['search', 'about', 'tag', 'owner', 'stage'] as const
type Name = (typeof NAMES)[number]

/** Which hypotheses are looked at, kept in the address. */
export function useIdeaFilter() {
  const route = useRoute()
  const change = useQueryChange()
  const read = (name: Name) => {
    const value = route.query[name]
    return typeof value === 'string' ? value : ''
  }
  const field = (name: Name) =>
    computed({
      get: () => read(name),
      set: (value: string) => change(({ [name]: _, ...rest }) => (value ? { ...rest, [name]: value } : rest)),
    })
  const fields = { search: field('search'), page: field('about'), tag: field('tag'), owner: field('owner') }
  const stage = field('stage')
  const isFiltered = computed(() => NAMES.some((name) => read(name) !== ''))

  /** Those that fit everything that is asked for. */
  function filter(all: readonly HypothesisSummary[]): HypothesisSummary[] {
    const words = read('search').toLowerCase().split(/\s+/).filter(Boolean)
    const [page, tag, owner, wanted] = [read('about'), read('tag'), read('owner'), read('stage')]
    const isStage = STAGES.some((each) => each === wanted)
    return all.filter((each) => {
      const text = `${each.title} ${each.pages ?? ''} ${each.tags.join(' ')} ${each.owner?.name ?? ''}`.toLowerCase()
      return (
        (!isStage || each.stage === wanted) &&
        (page === '' || each.pages === page) &&
        (tag === '' || each.tags.includes(tag)) &&
        (owner === '' || String(each.owner?.id ?? 'none') === owner) &&
        words.every((word) => text.includes(word))
      )
    })
  }
  return { ...fields, stage, isFiltered, filter }
}
