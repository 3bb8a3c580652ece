import type { PoolClient } from 'pg'
import { figureNamedBy } from '../../../core/evidence/figures'
import type { FrozenView } from '../../../shared/findings/finding'
import * as queries from './queries'

const FORGOTTEN = 'erased'

/**
 * Takes a visitor out of the views that findings keep: their id where a view is of a recording of theirs, and figures
 * that are named by words which nobody but their browser has told. The numbers stay.
 */
export async function forgetInFindings(client: PoolClient, siteId: number, visitor: string): Promise<void> {
  const { rows } = await client.query<{ id: number; frozen: FrozenView }>(queries.FROZEN, [siteId])
  if (rows.length === 0) return
  const own = await wordsOfNobodyElse(client, siteId, visitor, rows)
  for (const { id, frozen } of rows) {
    const forgotten = withoutVisitor(frozen, visitor, own)
    if (JSON.stringify(forgotten) !== JSON.stringify(frozen))
      await client.query(queries.SAVE_FROZEN, [siteId, id, JSON.stringify(forgotten)])
  }
}

async function wordsOfNobodyElse(
  client: PoolClient,
  siteId: number,
  visitor: string,
  findings: readonly { frozen: FrozenView }[],
): Promise<ReadonlySet<string>> {
  const told = await client.query<{ word: string | null }>(queries.WORDS_OF_VISITOR, [siteId, visitor])
  const theirs = new Map(told.rows.flatMap(({ word }) => (word ? [[shownAs(word), word] as const] : [])))
  const named = findings.flatMap(({ frozen }) =>
    frozen.figures.flatMap((figure) => figureNamedBy(frozen.report, figure) ?? []),
  )
  const asked = [...new Set(named.flatMap((name) => theirs.get(name) ?? []))]
  if (asked.length === 0) return new Set()
  const alone = await client.query<{ word: string }>(queries.WORDS_OF_NOBODY_ELSE, [siteId, visitor, asked])
  return new Set(alone.rows.map(({ word }) => shownAs(word)))
}

/** Addresses stand in figures by their path. */
function shownAs(word: string): string {
  return /^https?:\/\//.test(word) && URL.canParse(word) ? new URL(word).pathname : word
}

function withoutVisitor(frozen: FrozenView, visitor: string, words: ReadonlySet<string>): FrozenView {
  const [path, ...query] = frozen.place.split('?') as [string, ...string[]]
  const segments = path.split('/').map((segment) => (segment === visitor ? FORGOTTEN : segment))
  return {
    ...frozen,
    place: [segments.join('/'), ...query].join('?'),
    figures: frozen.figures.map((figure, index) => {
      const name = figureNamedBy(frozen.report, figure)
      if (name === null || !words.has(name)) return figure
      return { ...figure, key: `${FORGOTTEN} ${index}`, label: 'What an erased visitor called it' }
    }),
  }
}
