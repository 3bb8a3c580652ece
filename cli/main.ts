import { HumanError } from './HumanError'

interface Command {
  summary: string
  load: () => Promise<{ run: (args: string[]) => Promise<number> }>
}

const COMMANDS: Record<string, Command> = {
  start: { summary: 'set everything up and serve Vetch and the demo site', load: () => import('./start') },
  test: { summary: 'run lint, types, unit, integration and browser tests', load: () => import('./test') },
  bench: { summary: 'measure, each against a reference in the same run', load: () => import('./bench') },
  analyze: { summary: 'analyze a CSV file of visitors by a plan', load: () => import('./analyze') },
  power: { summary: 'visitors needed to find a lift, or the lift that visitors find', load: () => import('./power') },
  boundaries: { summary: 'critical values for planned looks', load: () => import('./boundaries') },
  rehearse: { summary: 'simulate what a decision plan would say, and when', load: () => import('./rehearse') },
  backup: { summary: 'write everything into one file, while Vetch runs or not', load: () => import('./backup') },
  restore: { summary: 'make a data folder from such a file', load: () => import('./restore') },
  token: { summary: 'make a token for a program that calls the API', load: () => import('./token') },
  visitors: { summary: 'send simulated visitors to a running Vetch', load: () => import('./visitors') },
}

async function main(): Promise<number> {
  const [name = 'help', ...args] = process.argv.slice(2)
  const command = COMMANDS[name]
  if (command) return (await command.load()).run(args)
  const list = Object.entries(COMMANDS).map(([word, { summary }]) => `  ./vetch ${word.padEnd(10)} ${summary}`)
  console.log(['Usage:', ...list, '', 'Each takes --help.'].join('\n'))
  return ['help', '--help', '-h'].includes(name) ? 0 : 2
}

main().then(
  (code) => process.exit(code),
  (error: unknown) => {
    console.error(error instanceof HumanError ? error.message : error)
    process.exit(error instanceof HumanError ? error.exitCode : 1)
  },
)
