/** What of a report of Vitest's unit and integration tests is read. */
export interface VitestReport {
  numPassedTests: number
  numFailedTests: number
  testResults: {
    name: string
    message?: string
    status?: string
    assertionResults: { fullName: string; status: string; failureMessages?: string[] | null }[]
  }[]
}

interface BrowserSuite {
  file?: string
  suites?: BrowserSuite[]
  specs?: { title: string; ok: boolean; tests: { status: string; results: { error?: { message?: string } }[] }[] }[]
}

/** What of a report of the browser tests is read. */
export interface BrowserReport {
  stats: { expected: number; unexpected: number; flaky: number }
  suites: BrowserSuite[]
}

/** Each failed test as a line: file, name and the first line of what it said. A file that could not be run is one. */
export function failedVitests({ testResults }: VitestReport): string[] {
  return testResults.flatMap(({ name, message = '', status, assertionResults }) => {
    const failed = assertionResults.filter((each) => each.status === 'failed')
    if (failed.length === 0 && status === 'failed') return [lineOf(name, '', message)]
    return failed.map(({ fullName, failureMessages }) => lineOf(name, fullName, failureMessages?.[0] ?? ''))
  })
}

/** Like `failedVitests`; a test that passed at its second try has failed, too. */
export function failedBrowserTests({ suites }: Pick<BrowserReport, 'suites'>): string[] {
  return suites.flatMap((suite) => [
    ...failedBrowserTests({ suites: suite.suites ?? [] }),
    ...(suite.specs ?? []).flatMap(({ title, tests }) =>
      tests
        .filter(({ status }) => status === 'unexpected' || status === 'flaky')
        .map(({ results }) => {
          const error = results.find((each) => each.error)?.error?.message ?? ''
          return lineOf(suite.file ?? '', title, error)
        }),
    ),
  ])
}

function lineOf(file: string, name: string, message: string): string {
  const words = message.replace(/\u001b\[[\d;]*m/g, '').split('\n')[0]!
  return [
    file.replace(/^.*\/(?=tests\/|core\/|cli\/|server\/|app\/|shared\/|delivery\/)/, ''),
    name,
    words.slice(0, 300),
  ]
    .filter(Boolean)
    .join(' › ')
}
