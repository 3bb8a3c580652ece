import { spawnSync } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { resolve } from 'node:path'

/** What of this must be readable for whoever runs the processes. */
const PROGRAM = '.output/server/index.mjs'

/**
 * The command that runs a program as a user who may do nothing else, where Vetch runs as root. The user is made at
 * first use. It stays the command itself where Vetch runs as somebody else, or its folder is closed to others.
 *
 * @param name - of the user
 * @param capability - what of a superuser's rights it needs, as setpriv names it
 */
export function asOwnUser(name: string, command: readonly string[], capability?: string): string[] {
  if (process.getuid?.() !== 0 || !mayBecome(name)) return [...command]
  return [...becoming(name, capability), ...command]
}

function becoming(name: string, capability?: string): string[] {
  const kept = capability ? `-all,+${capability}` : '-all'
  return [
    'setpriv',
    `--reuid=${name}`,
    `--regid=${name}`,
    '--clear-groups',
    '--no-new-privs',
    `--inh-caps=${kept}`,
    ...(capability ? [`--ambient-caps=${kept}`, `--bounding-set=${kept}`] : []),
    '--',
  ]
}

const known = new Map<string, boolean>()

/** Whether there is such a user, and it can read what it has to run. */
function mayBecome(name: string): boolean {
  const before = known.get(name)
  if (before !== undefined) return before
  const may = (isUser(name) || makeUser(name)) && canRead(name)
  known.set(name, may)
  return may
}

function isUser(name: string): boolean {
  return readFileSync('/etc/passwd', 'utf8')
    .split('\n')
    .some((line) => line.startsWith(`${name}:`))
}

function makeUser(name: string): boolean {
  const options = ['--system', '--user-group', '--no-create-home', '--home-dir', '/nonexistent']
  const made = spawnSync('useradd', [...options, '--shell', '/usr/sbin/nologin', name], { encoding: 'utf8' })
  // Another process may have made it meanwhile.
  if (made.status === 0 || isUser(name)) return true
  console.error(`There is no user ${name}, and it could not be made: ${made.stderr?.trim() ?? made.error?.message}`)
  return false
}

function canRead(name: string): boolean {
  const [program, ...args] = [...becoming(name), process.execPath, '--check', resolve(PROGRAM)]
  const tried = spawnSync(program!, args, { encoding: 'utf8' })
  if (tried.status === 0) return true
  console.error(
    `${name} cannot run what lies in ${resolve('.')}, so root runs it. Put Vetch where others may read, such as /opt/vetch.\n${tried.stderr}`,
  )
  return false
}
