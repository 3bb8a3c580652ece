import { execFileSync } from 'node:child_process'
import { existsSync } from 'node:fs'
import { HumanError } from '../HumanError'

const git = (...args: string[]) => execFileSync('git', args, { encoding: 'utf8' }).trim()

/**
 * Files that differ from a commit, with those that are new, from the root. What was deleted is left out.
 *
 * @param base - what is compared with; without, the last commit that is on the branch `origin/main` as well
 * @throws HumanError where there is nothing to compare with
 */
export function changedFiles(base: string | undefined): string[] {
  try {
    const from = base ?? git('merge-base', 'HEAD', 'origin/main')
    const named = `${git('diff', '--name-only', from)}\n${git('ls-files', '--others', '--exclude-standard')}`
    return [...new Set(named.split('\n'))].filter((path) => path !== '' && existsSync(path))
  } catch {
    throw new HumanError('There is no commit to compare with. Name one: ./vetch test --changed HEAD~1')
  }
}
