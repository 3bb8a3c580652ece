import type { EvidenceChoices } from '~~/shared/evidence/replies'

const known = new Map<number, Ref<EvidenceChoices | null>>()

/** What a view of Evidence works with: its site, the filter in the address, and what can be chosen. */
export function useEvidence(siteId: number) {
  const api = useApi()
  const account = useAccountStore()
  const notices = useNoticesStore()
  const timeZone = computed(() => account.site(siteId)?.timeZone ?? 'UTC')
  // Kept from view to view: what can be chosen is the same, and asked for anew beside it.
  const choices = known.get(siteId) ?? shallowRef<EvidenceChoices | null>(null)
  known.set(siteId, choices)
  void api('readEvidenceChoices', { site: siteId }).then(
    (value) => (choices.value = value),
    (error: unknown) => {
      if (!(error instanceof ApiProblem)) throw error
      if (error.status !== 401)
        notices.show(`What the filter offers could not be loaded: ${error.message}`, { tone: 'problem' })
    },
  )
  const filter = useFilter(() => timeZone.value)
  /** Whom a view is compared with, in words. */
  const comparedName = computed(() => {
    const { value } = filter.compare
    if (value === BEFORE) return 'the previous period'
    return segmentInWords(value === null || value === EVERYBODY ? undefined : value, choices.value)
  })
  /** Whom a view is of, in words, beside the one that it is compared with. */
  const shownName = computed(() => {
    const segment = segmentInWords(filter.filter.value.segment, choices.value)
    return filter.compare.value === BEFORE && segment === 'everybody' ? 'these days' : segment
  })
  return { api, siteId, timeZone, choices, comparedName, shownName, ...filter }
}

/** A report and the one that it is compared with, loaded anew as the filter changes. */
export function useReport<Report>(
  evidence: Pick<ReturnType<typeof useEvidence>, 'filter' | 'compared'>,
  ask: (filter: Filter) => Promise<Report>,
  alsoOn: () => unknown = () => null,
) {
  const { filter, compared } = evidence
  const loaded = useLoaded(async () => {
    const [report, other] = await Promise.all([ask(filter.value), compared.value ? ask(compared.value) : null])
    return { report, other }
  })
  watch([filter, compared, alsoOn], () => void loaded.reload())
  return loaded
}
