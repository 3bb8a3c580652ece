/** Something of a site that words lead to. */
export interface FoundThing {
  label: string
  /** What it is. */
  hint: string
  /** Where it is shown, within the site. */
  to: string
}

/** A person who types on does not ask with each letter, in ms. */
const PAUSE = 200
const FEWEST_LETTERS = 2

/** Findings, hypotheses, metrics, audiences, surveys and pages of a site, by their words; and a recording by its ids. */
export function useFoundThings(siteId: () => number, query: Ref<string>) {
  const api = useApi()
  const findings = ref<FoundThing[]>([])
  const others = ref<FoundThing[]>([])
  let loaded: number | null = null
  const orNone = <Item>(list: Promise<Item[]>) =>
    list.catch((error: unknown) => {
      if (!(error instanceof ApiProblem)) throw error
      return [] as Item[]
    })

  async function search(text: string): Promise<void> {
    const site = siteId()
    const found = await orNone(api('listFindings', { site, query: { search: text } }).then((answer) => answer.findings))
    if (query.value.trim() === text)
      findings.value = found.map(({ id, title }) => ({ label: title, hint: 'Finding', to: `evidence/findings/${id}` }))
  }

  /** Once for what is typed: they are searched here. */
  async function load(): Promise<void> {
    const site = siteId()
    loaded = site
    const [hypotheses, metrics, audiences, surveys, pages] = await Promise.all([
      orNone(api('listHypotheses', { site }).then((answer) => answer.hypotheses)),
      orNone(api('listMetrics', { site }).then((list) => [...list])),
      orNone(api('listAudiences', { site }).then((list) => [...list])),
      orNone(api('listSurveys', { site }).then((list) => [...list])),
      orNone(api('readEvidenceChoices', { site }).then((answer) => answer.pages)),
    ])
    const query = (text: string) => encodeURIComponent(text)
    others.value = [
      ...hypotheses.map(({ id, title }) => ({ label: title, hint: 'Hypothesis', to: `hypotheses/${id}` })),
      ...metrics.map(({ id, name }) => ({ label: name, hint: 'Metric', to: `setup/metrics?metric=${query(id)}` })),
      ...audiences.map(({ id, name }) => ({
        label: name,
        hint: 'Audience',
        to: `experiments/audiences?audience=${id}`,
      })),
      ...surveys.map(({ id, name }) => ({ label: name, hint: 'Survey', to: `evidence/surveys/${id}` })),
      ...pages.map((page) => ({ label: page, hint: 'Page', to: `evidence/page?of=${query(page)}` })),
    ]
  }

  watchDebounced(
    query,
    () => {
      const text = query.value.trim()
      findings.value = []
      // Each time that somebody begins to type, it is read anew.
      if (text.length < FEWEST_LETTERS) {
        loaded = null
        others.value = []
      }
      if (text.length < FEWEST_LETTERS || !siteId()) return
      if (loaded !== siteId()) void load()
      void search(text)
    },
    { debounce: PAUSE },
  )
  /** The ids of a visitor and a visit, as they stand in the address of a recording. */
  const recording = computed<FoundThing[]>(() => {
    const [, visitor, visit] = /^([\w-]{8,80})[\s/]+([\w-]{8,80})$/.exec(query.value.trim()) ?? []
    return visitor && visit
      ? [{ label: `${visitor} ${visit}`, hint: 'Recording', to: `evidence/recordings/${visitor}/${visit}` }]
      : []
  })
  const matching = computed(() => {
    const words = query.value.toLowerCase().split(/\s+/).filter(Boolean)
    if (words.join('').length < FEWEST_LETTERS) return []
    return others.value.filter(({ label }) => words.every((word) => label.toLowerCase().includes(word)))
  })
  return computed(() => [...recording.value, ...findings.value, ...matching.value])
}
