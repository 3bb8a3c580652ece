import { createHash } from 'node:crypto'
import { promisify } from 'node:util'
import { brotliCompress, constants } from 'node:zlib'
import { isPlainRule } from '../../../core/targeting/pageRule'
import type { AnySiteFileEntry, SiteFile } from '../../../shared/delivery/siteFile'

const compress = promisify(brotliCompress)

/** A file as it goes over the wire. */
export interface RenderedFile {
  etag: string
  plain: string
  brotli: Buffer
}

/** Where the build of the snippet expects the site file. */
const PLACE = '__VETCH_SITE_FILE__'

/**
 * The snippet with a site file inlined.
 *
 * @param snippet - the built snippet, which names `__VETCH_SITE_FILE__` once
 */
export async function renderSnippet(snippet: string, siteFile: SiteFile): Promise<RenderedFile> {
  const plain = snippet.replace(PLACE, () => JSON.stringify(siteFile))
  return {
    etag: `"${createHash('sha256').update(plain).digest('base64url').slice(0, 16)}"`,
    plain,
    brotli: await compress(plain, {
      // The best there is, since it is fetched on every page. It is made anew whenever the file is asked for after a second.
      params: { [constants.BROTLI_PARAM_QUALITY]: 11, [constants.BROTLI_PARAM_SIZE_HINT]: plain.length },
    }),
  }
}

export type SnippetFile =
  'snippet.js' | 'snippetWithEveryKind.js' | 'snippetWithRules.js' | 'snippetWithRulesAndEveryKind.js'

/** The smallest snippet that can do what a site file asks for. */
export function snippetFor(siteFile: SiteFile): SnippetFile {
  const isTextOnly = changesTextsOnly(siteFile)
  if (hasPlainRulesOnly(siteFile)) return isTextOnly ? 'snippet.js' : 'snippetWithEveryKind.js'
  return isTextOnly ? 'snippetWithRules.js' : 'snippetWithRulesAndEveryKind.js'
}

/** Whether all that runs changes nothing but texts that are found by their selectors. */
function changesTextsOnly({ entries }: SiteFile): boolean {
  return entries.every(
    (entry) =>
      entry.kind !== 'experiment' ||
      entry.edits.flat().every((edit) => edit.kind === 'text' && !edit.clues && !edit.page),
  )
}

/** Whether more is asked of a visitor than to be in the share. */
function hasTerms(entry: AnySiteFileEntry): boolean {
  if (entry.audience) return true
  return entry.kind === 'experiment' && !!(entry.group ?? entry.holdouts ?? entry.activation ?? entry.leaves)
}

function hasPlainRulesOnly({
  entries,
  amounts,
  attributes,
  details,
  handingOn,
  environments,
  persons,
}: SiteFile): boolean {
  if (persons || attributes || details || handingOn || environments || entries.some(hasTerms)) return false
  const edits = entries.flatMap((entry) => (entry.kind === 'experiment' ? entry.edits.flat() : []))
  const rules = [
    ...entries.flatMap(({ pages }) => pages),
    ...amounts.map(({ page }) => page),
    ...edits.flatMap(({ page }) => (page ? [page] : [])),
  ]
  return rules.every(isPlainRule)
}
