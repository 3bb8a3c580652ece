import { FILLED } from './interfaceStrings'

/** A sentence with more words is read twice. */
export const MOST_WORDS = 20

/**
 * What is wrong with a text that people read.
 *
 * @param avoided - words that it must not hold, as `avoidedWords` reads them
 *
 * @example wordProblems('Throw away', ['Throw away']) // ['says “Throw away”']
 */
export function wordProblems(text: string, avoided: readonly string[]): string[] {
  const longest = Math.max(...sentencesOf(text).map(countWords))
  const said = avoided.filter((each) => holds(text, each)).map((each) => `says “${each}”`)
  return longest > MOST_WORDS ? [...said, `has a sentence of ${longest} words`] : said
}

/** The last column of the tables of `docs/words.md`. */
export function avoidedWords(markdown: string): string[] {
  const rows = markdown.split('\n').filter((line) => line.startsWith('| ') && !/^\| (Say|---) /.test(line))
  return rows.flatMap((row) =>
    row
      .split('|')
      .at(-2)!
      .split(';')
      .map((each) => each.trim())
      .filter(Boolean),
  )
}

function sentencesOf(text: string): string[] {
  return text.split(/(?<=[.?!:;])\s+/)
}

function countWords(sentence: string): number {
  return sentence.split(/\s+/).filter((word) => word.includes(FILLED) || /[\p{L}\d]/u.test(word)).length
}

/** As whole words; where a word begins with a capital letter it stands at the beginning of a sentence. */
function holds(text: string, words: string): boolean {
  const pattern = words.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')
  return new RegExp(`(^|[^\\p{L}])${pattern}($|[^\\p{L}])`, 'u').test(text)
}
