import { spawn, spawnSync } from 'node:child_process'
import { HumanError } from '../HumanError'

/** Runs a program with its output shown, and says in words when it fails. */
export function runVisibly(
  program: string,
  args: string[],
  failure: string,
  env: NodeJS.ProcessEnv = process.env,
): Promise<void> {
  return new Promise((resolve, reject) => {
    const child = spawn(program, args, { stdio: 'inherit', env })
    child.on('error', () => reject(new HumanError(failure)))
    child.on('exit', (code) => (code === 0 ? resolve() : reject(new HumanError(failure))))
  })
}

/** Installs Debian packages, as root or through sudo. */
export async function installDebianPackages(packages: string[], purpose: string): Promise<void> {
  const isRoot = process.getuid?.() === 0
  const failure = `${purpose} could not be installed. Run "apt-get install ${packages.join(' ')}" as root, then the same command again.`
  if (!isRoot && spawnSync('sudo', ['-n', 'true']).status !== 0) throw new HumanError(failure)
  console.error(`Installing ${purpose} …`)
  const apt = (args: string[]) => {
    const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' }
    return isRoot
      ? runVisibly('apt-get', args, failure, env)
      : runVisibly('sudo', ['-E', 'apt-get', ...args], failure, env)
  }
  await apt(['update', '-qq'])
  await apt(['install', '-y', '-qq', '--no-install-recommends', ...packages])
}
