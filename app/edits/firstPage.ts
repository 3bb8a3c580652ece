import type { SheetContent } from '~~/core/sheet/content'
import { beginningPath, namedPath } from '~~/core/targeting/pageRule'

/**
 * The page of an experiment that is opened first: one that its rules name, else the most visited one that they match,
 * else where they begin.
 *
 * @param visited - looks up the pages of the experiment, the most visited first
 */
export async function firstPageOf(
  { pageRules }: Pick<SheetContent, 'pageRules'>,
  visited: () => Promise<readonly string[]>,
): Promise<string> {
  const named = pageRules.map(namedPath).find((path) => path !== null)
  if (named) return named
  const beginning = pageRules.map(beginningPath).find((path) => path !== null)
  return (await visited().catch(() => []))[0] ?? beginning ?? '/'
}
