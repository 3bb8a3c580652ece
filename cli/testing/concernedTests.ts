/** What in the code is tried by which files of `tests/integration/` and `tests/browser/`, by their names. */
const CONCERNS: readonly { paths: RegExp; tests: readonly string[] }[] = [
  { paths: /(statistics|analysis|random)\//, tests: ['readings', 'verdicts'] },
  { paths: /(verdict|charts)\//, tests: ['verdicts', 'results'] },
  { paths: /(measurement|results|statements|time)\//, tests: ['numbers', 'fold', 'counting', 'readings', 'retention'] },
  { paths: /(jobs|worker|database)\//, tests: ['retention', 'schedule', 'foldFaults', 'crash'] },
  { paths: /(intake|assignment)\//, tests: ['intake', 'snippet'] },
  { paths: /(evidence|heatmap|filter|threads)\//, tests: ['evidence'] },
  { paths: /(findings)\//, tests: ['findings'] },
  { paths: /(recordings?|recorder)\//, tests: ['recordings', 'behavior'] },
  { paths: /(collection|visitors|identity)\//, tests: ['visitors', 'keptData'] },
  { paths: /(surveys?)\//, tests: ['surveys'] },
  { paths: /(hypotheses|wording|workers)\//, tests: ['hypotheses'] },
  { paths: /(metrics)\//, tests: ['metricLibrary', 'metrics'] },
  { paths: /(experiments|sheet|sheets|sheetRead|discussion|code)\//, tests: ['experiments', 'sheet', 'review'] },
  { paths: /(preflight|selector)\//, tests: ['preflight'] },
  { paths: /(pictures|layout|places|browser)\//, tests: ['variantPictures', 'processes'] },
  { paths: /(edits|pointing|overlay|preview|device)\//, tests: ['edits', 'pointing'] },
  { paths: /(factors)\//, tests: ['multivariate'] },
  { paths: /(targeting|audiences?|audience|pages|panel|dryRun)\//, tests: ['targeting', 'dryRun', 'sharing'] },
  { paths: /(traffic)\//, tests: ['sharing', 'holdouts', 'movingSplit'] },
  { paths: /(allocation)\//, tests: ['movingSplit', 'verdicts'] },
  { paths: /(rollouts)\//, tests: ['rollouts'] },
  { paths: /(goingHome)\//, tests: ['goingHome'] },
  { paths: /(drift)\//, tests: ['drift'] },
  { paths: /(history)\//, tests: ['history'] },
  { paths: /(watch)\//, tests: ['watch', 'alarms'] },
  { paths: /(notifications|mail)\//, tests: ['notifications', 'letters'] },
  { paths: /(webhooks|receiver)\//, tests: ['webhooks'] },
  { paths: /(snippet|reveal|delivery)\//, tests: ['snippet', 'views', 'singlePage'] },
  { paths: /(gateway|processes|reports)\//, tests: ['processes', 'severalProcesses', 'crash'] },
  { paths: /(accounts?|people|mail|middleware)\//, tests: ['accounts', 'people'] },
  { paths: /(sites|setup|http|plugins|routes|api|news)\//, tests: ['doors', 'permissions'] },
  {
    paths: /(base|data|shell|today|layouts|stores|composables|assets|development|plugins|middleware)\//,
    tests: ['interface'],
  },
  { paths: /^demo\//, tests: ['demoState', 'demo'] },
  { paths: /^(cli\/(start|stack)|vetch)/, tests: ['start'] },
  { paths: /^cli\/(backup|restore)/, tests: ['backup'] },
]

/** A path from the folder on that says its subject. */
const subjectOf = (path: string) =>
  path.replace(
    /^(app\/(pages|components)|server\/(services|api\/sites\/\[site\])|app|server|core|shared|delivery)\//,
    '',
  )

/**
 * Names of the integration and browser tests that a change concerns: those of its subjects, and those that it changes.
 *
 * @param paths - files that have changed, from the root
 * @example concernedTests(['core/factors/combinations.ts']) // ['multivariate']
 */
export function concernedTests(paths: readonly string[]): string[] {
  const changed = paths.flatMap((path) => /^tests\/(?:integration|browser)\/(\w+)\.test\.ts$/.exec(path)?.[1] ?? [])
  const ofSubjects = paths
    .filter((path) => !path.startsWith('tests/') && !path.endsWith('.test.ts'))
    .flatMap((path) => CONCERNS.filter(({ paths: of }) => of.test(subjectOf(path))))
    .flatMap(({ tests }) => tests)
  return [...new Set([...changed, ...ofSubjects])].sort()
}
