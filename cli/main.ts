import { helpOf } from './helpOf'
import { HumanError } from './HumanError'

/** What each does stands in `help/vetch.txt`. */
const COMMANDS: Record<string, () => Promise<{ run: (args: string[]) => Promise<number> }>> = {
  start: () => import('./start'),
  test: () => import('./test'),
  bench: () => import('./bench'),
  analyze: () => import('./analyze'),
  power: () => import('./power'),
  boundaries: () => import('./boundaries'),
  rehearse: () => import('./rehearse'),
  backup: () => import('./backup'),
  restore: () => import('./restore'),
  token: () => import('./token'),
  visitors: () => import('./visitors'),
  words: () => import('./words'),
}

async function main(): Promise<number> {
  const [name = 'help', ...args] = process.argv.slice(2)
  const command = COMMANDS[name]
  if (command) return (await command()).run(args)
  console.log(helpOf('vetch'))
  return ['help', '--help', '-h'].includes(name) ? 0 : 2
}

main().then(
  (code) => process.exit(code),
  (error: unknown) => {
    console.error(error instanceof HumanError ? error.message : error)
    process.exit(error instanceof HumanError ? error.exitCode : 1)
  },
)
