import { spawn } from 'node:child_process'
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs'
import { resolve } from 'node:path'
import { helpOf } from './helpOf'
import { buildApplication } from './stack/build'
import { installDebianPackages } from './stack/command'
import { isPostgresInstalled } from './stack/cluster'
import { installBrowser } from './stack/browser'
import { changedFiles } from './testing/changedFiles'
import { failedBrowserTests, failedVitests, type BrowserReport, type VitestReport } from './testing/failedTests'
import { concernedTests } from './testing/concernedTests'

interface Count {
  passed: number
  failed: number
}
interface Outcome extends Count {
  /** A line for each that failed. */
  failures: string[]
}
interface Step {
  name: string
  command: string[]
  /** Reads which tests passed and failed; a step without counts as one. */
  read?: () => Outcome | null
}

const RESULTS = resolve('test-results')

/** Runs every check, also after one has failed, and ends with a line that counts them. */
export async function run(args: string[]): Promise<number> {
  if (args.includes('--help')) {
    console.log(helpOf('test'))
    return 0
  }
  if (!isPostgresInstalled()) await installDebianPackages(['postgresql'], 'PostgreSQL')
  const browser = installBrowser().then(installFakeTime)
  rmSync(RESULTS, { recursive: true, force: true })
  mkdirSync(RESULTS, { recursive: true })
  const total: Outcome = { passed: 0, failed: 0, failures: [] }
  const place = args.indexOf('--changed')
  const changed = place < 0 ? null : changedFiles(args[place + 1])
  const runAll = async (list: readonly Step[]) => {
    for (const step of list) {
      const own = await runStep(step)
      total.passed += own.passed
      total.failed += own.failed
      total.failures.push(...own.failures)
    }
  }
  // What reads the sources and what runs them do not wait for each other; browsers, which keep time, run alone.
  const built = buildApplication()
  const tests = changed ? testsOf(changed) : EVERYTHING
  await Promise.all([
    browser,
    Promise.all([runAll(checks()), built]).then(() => runAll(applicationTypes)),
    Promise.all([built, browser]).then(() => Promise.all(tests.beside.map((each) => runAll([each])))),
  ])
  await runAll(tests.alone)
  for (const failure of total.failures) console.log(`Failed: ${failure}`)
  console.log(`\n${total.passed} passed, ${total.failed} failed`)
  return total.failed === 0 ? 0 : 1
}

/** What lets a test set the clocks of a server of its own. */
async function installFakeTime(): Promise<void> {
  if (!existsSync('/usr/bin/faketime')) await installDebianPackages(['faketime'], 'Another clock for tests')
}

/** Prints what a step says once it has ended: several may run at once. */
async function runStep({ name, command, read }: Step): Promise<Outcome> {
  const started = Date.now()
  const { code, output } = await runCommand(command)
  console.log(`\n── ${name}, ${Math.round((Date.now() - started) / 1000)} s\n${output.trimEnd()}`)
  const own = read?.() ?? { passed: code === 0 ? 1 : 0, failed: 0, failures: [] }
  // A runner that breaks off without a failed test has failed all the same.
  if (code !== 0 && own.failed === 0) return { ...own, failed: 1, failures: [name] }
  return own
}

function vitest(project: string, chosen: readonly string[] = []): Step {
  const file = `${RESULTS}/${project}.json`
  return {
    name: `${project} tests`,
    command: [
      'npx',
      'vitest',
      ...(project === 'unit' && chosen.length > 0 ? ['related', '--run', ...chosen] : ['run', ...chosen]),
      '--project',
      project,
      '--reporter=default',
      '--reporter=json',
      `--outputFile.json=${file}`,
    ],
    read: () =>
      readReport<VitestReport>(file, (report) => {
        const failures = failedVitests(report)
        return { passed: report.numPassedTests, failed: failures.length, failures }
      }),
  }
}

function browserTests(chosen: readonly string[] = []): Step {
  return {
    name: 'browser tests',
    command: ['npx', 'playwright', 'test', ...chosen],
    read: () =>
      readReport<BrowserReport>(`${RESULTS}/browser.json`, (report) => ({
        passed: report.stats.expected,
        failed: report.stats.unexpected + report.stats.flaky,
        failures: failedBrowserTests(report),
      })),
  }
}

/** Every benchmark with a small part of its work, so that none breaks unseen. */
const QUICK_BENCHMARKS: Step = { name: 'benchmarks, quick form', command: ['./vetch', 'bench', '--quick'] }

interface Tests {
  /** Those that run at once, beside the checks. */
  beside: readonly Step[]
  /** Those that keep time. */
  alone: readonly Step[]
}

const EVERYTHING: Tests = {
  beside: [vitest('unit'), vitest('integration'), QUICK_BENCHMARKS],
  alone: [browserTests()],
}

/** What a change concerns: unit tests by what they import, the others by their subjects. */
function testsOf(changed: readonly string[]): Tests {
  const names = concernedTests(changed)
  const filesOf = (folder: string) =>
    names.map((name) => `tests/${folder}/${name}.test.ts`).filter((path) => existsSync(path))
  const [integration, browser] = [filesOf('integration'), filesOf('browser')]
  const sources = changed.filter((path) => /\.(ts|vue)$/.test(path) && !path.startsWith('tests/'))
  console.log(`${changed.length} files have changed. Tests of: ${names.join(', ') || 'nothing'}.`)
  return {
    beside: [
      ...(sources.length > 0 ? [vitest('unit', sources)] : []),
      ...(integration.length > 0 ? [vitest('integration', integration)] : []),
      ...(changed.some((path) => path.startsWith('bench/')) ? [QUICK_BENCHMARKS] : []),
    ],
    alone: browser.length > 0 ? [browserTests(browser)] : [],
  }
}

/** The compiler for everything that is no component: it takes seconds. */
const NATIVE_COMPILER = ['node', 'node_modules/typescript-native/bin/tsc', '--noEmit', '-p']

/** These read what the build writes about pages, components and routes. */
const applicationTypes: readonly Step[] = [
  { name: 'types of the interface', command: ['npx', 'vue-tsc', '--noEmit', '-p', '.nuxt/tsconfig.app.json'] },
  { name: 'types of the server', command: [...NATIVE_COMPILER, '.nuxt/tsconfig.server.json'] },
]

function checks(): Step[] {
  return [
    { name: 'lint', command: ['npx', 'eslint', '.', '--max-warnings=0'] },
    { name: 'format', command: ['npx', 'prettier', '--check', '--log-level', 'warn', '.'] },
    { name: 'unused code', command: ['npx', 'knip', '--no-config-hints'] },
    {
      name: 'imports',
      command: [
        'npx',
        'depcruise',
        '--config',
        '.dependency-cruiser.cjs',
        'core',
        'shared',
        'delivery',
        'app',
        'server',
        'cli',
        'demo',
        'bench',
        'tests',
        'stand-ins',
      ],
    },
    { name: 'types of everything else', command: [...NATIVE_COMPILER, 'tsconfig.tools.json'] },
  ]
}

function readReport<Report>(file: string, read: (report: Report) => Outcome): Outcome | null {
  return existsSync(file) ? read(JSON.parse(readFileSync(file, 'utf8')) as Report) : null
}

function runCommand([program, ...args]: string[]): Promise<{ code: number; output: string }> {
  return new Promise((ended) => {
    const child = spawn(program!, args, { stdio: ['ignore', 'pipe', 'pipe'] })
    const parts: Buffer[] = []
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (part: Buffer) => parts.push(part))
    const end = (code: number) => ended({ code, output: Buffer.concat(parts).toString() })
    child.on('error', () => end(1))
    child.on('close', (code) => end(code ?? 1))
  })
}
