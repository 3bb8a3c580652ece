import type { SheetContent } from '~~/core/sheet/content'

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
  const named = pageRules.find(({ match }) => match === 'exact')?.value
  if (named !== undefined) return named
  const beginning = pageRules.find(({ match }) => match === 'begins')?.value
  return (await visited().catch(() => []))[0] ?? beginning ?? '/'
}
