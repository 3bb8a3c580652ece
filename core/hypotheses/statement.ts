/** The parts of a hypothesis, each in words. */
export interface StatementParts {
  /** Titles of the findings that it comes from. */
  findings: readonly string[]
  change: string
  /** Such as “/book”; empty for everywhere. */
  pages: string
  /** Such as “phones”; empty for everybody. */
  audience: string
  metric: string
  direction: 'up' | 'down'
  reason: string
}

/**
 * A hypothesis in one statement. What is not said yet is left out.
 *
 * @example
 * // Because we saw that phones leave at the length of the vehicle, we expect that three sizes to choose from on /book
 * // for phones will raise bookings, because nobody has a tape measure at hand.
 */
export function assembleStatement(parts: StatementParts): string {
  const { findings, change, pages, audience, metric, direction, reason } = parts
  const saw = findings.map((title) => withoutStop(lowerFirst(title)))
  const because = saw.length > 0 ? `Because we saw that ${joined(saw)}, we` : 'We'
  const where = `${pages && ` on ${pages}`}${audience && ` for ${audience}`}`
  const will = metric && ` will ${direction === 'up' ? 'raise' : 'lower'} ${lowerFirst(metric)}`
  const why = reason && `, because ${withoutStop(lowerFirst(reason))}`
  const said = `${withoutStop(lowerFirst(change)) || '…'}${where}${will}${why}`
  return `${because} expect that ${said}${said.endsWith('…') ? '' : '.'}`
}

function joined(texts: readonly string[]): string {
  return texts.length < 2 ? texts.join() : `${texts.slice(0, -1).join(', ')} and ${texts.at(-1)}`
}

/** Leaves words in capitals, and names of one letter, as they are. */
function lowerFirst(text: string): string {
  const [first = '', second = ''] = text.trim()
  const isWord = second === '' || second === ' ' ? first !== 'I' : second === second.toLowerCase()
  return isWord ? first.toLowerCase() + text.trim().slice(1) : text.trim()
}

function withoutStop(text: string): string {
  return text.trim().replace(/[.\s]+$/, '')
}
