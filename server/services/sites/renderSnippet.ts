import { createHash } from 'node:crypto'
import { promisify } from 'node:util'
import { brotliCompress, constants } from 'node:zlib'
import { isPlainRule } from '../../../core/targeting/pageRule'
import { heldBack } from '../../../shared/delivery/heldBack'
import type { AnySiteFileEntry, RenderedSiteFile, SiteFile } from '../../../shared/delivery/siteFile'

const compress = promisify(brotliCompress)

/** A file as it goes over the wire. */
export interface RenderedFile {
  etag: string
  plain: string
  /** Soon compressed as well as it can be, at once fairly well: whoever asks first does not wait for that. */
  brotli: Buffer
}

/** Where the build of the snippet expects the site file. */
const PLACE = '__VETCH_SITE_FILE__'
const QUICK = 5
/** The best there is, since it is fetched on every page. */
const BEST = 11

/**
 * The snippet with a site file inlined.
 *
 * @param snippet - the built snippet, which names `__VETCH_SITE_FILE__` once
 */
export function renderSnippet(snippet: string, siteFile: SiteFile): Promise<RenderedFile> {
  const rendered: RenderedSiteFile = { ...siteFile, held: JSON.stringify(heldBack(siteFile.entries)) }
  return renderFile(snippet.replace(PLACE, () => JSON.stringify(rendered)))
}

/** A text with its tag, compressed; see `RenderedFile`. */
export async function renderFile(plain: string): Promise<RenderedFile> {
  const file = {
    etag: `"${createHash('sha256').update(plain).digest('base64url').slice(0, 16)}"`,
    plain,
    brotli: await compressed(plain, QUICK),
  }
  void compressed(plain, BEST).then((brotli) => (file.brotli = brotli), console.error)
  return file
}

function compressed(text: string, quality: number): Promise<Buffer> {
  const params = { [constants.BROTLI_PARAM_QUALITY]: quality, [constants.BROTLI_PARAM_SIZE_HINT]: text.length }
  return compress(text, { params })
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
      entry.edits.flat().every((edit) => edit.kind === 'text' && !edit.clues && !edit.page && !edit.widths),
  )
}

/** Whether more is asked of a visitor than to be in the share. */
function hasTerms(entry: AnySiteFileEntry): boolean {
  if (entry.audience) return true
  if (entry.kind !== 'experiment') return false
  return (
    !!(entry.group ?? entry.holdouts ?? entry.apart ?? entry.activation ?? entry.leaves ?? entry.wordings) ||
    entry.period !== undefined
  )
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
