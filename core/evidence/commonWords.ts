/** Words that are in everything and say nothing. */
const EMPTY_WORDS = new Set(
  `a about after again all also am an and any are aren't as at be because been before but by can can't cannot could
  couldn't did didn't do does doesn't doing don't down each even for from further get got had has hasn't have haven't
  having he her here hers him his how i i'd i'll i'm i've if in into is isn't it it's its just let's like made make me
  might more most much must my need no nor not now of off on once one only or other our out over own please really
  same she should so some such than thank thanks that that's the their them then there there's these they they're this
  those through to too under until up us very want wanted was wasn't we we're well were what what's when where which
  while who whom why will with won't would wouldn't yes you you're your yours`.split(/\s+/),
)
const SHORTEST_WORD = 3
const FEWEST_IN_GROUP = 2

/** A word with the answers that it is in. */
export interface CommonWord {
  word: string
  /** Indices of the answers. */
  answers: number[]
}

/**
 * The words of a text that say something: in small letters, plurals as their singular, none twice.
 *
 * @example
 * wordsOf('Are dogs allowed? My dog is small.') // ['dog', 'allowed', 'small']
 */
export function wordsOf(text: string): string[] {
  const found =
    text
      .normalize('NFKC')
      .toLowerCase()
      .replaceAll('’', "'")
      .match(/[\p{L}\p{N}][\p{L}\p{N}'-]*/gu) ?? []
  const kept = found
    .map((word) => word.replace(/'s?$/, ''))
    .filter((word) => word.length >= SHORTEST_WORD && !EMPTY_WORDS.has(word))
  return [...new Set(kept.map(singular))]
}

/** The plain plurals of English: whatever it does wrong it does to every occurrence alike. */
function singular(word: string): string {
  if (word.length > 4 && word.endsWith('ies')) return `${word.slice(0, -3)}y`
  if (word.length > 4 && /(ss|x|ch|sh)es$/.test(word)) return word.slice(0, -2)
  return word.length > 3 && /[^su']s$/.test(word) ? word.slice(0, -1) : word
}

/**
 * The words that are in the most answers. One answer counts a word once.
 *
 * @param texts - what was answered, in order
 * @param most - how many words
 */
export function commonWords(texts: readonly string[], most: number): CommonWord[] {
  const words = texts.map((text) => new Set(wordsOf(text)))
  return byAnswers(words, words.keys())
    .filter(({ answers }) => answers.length >= FEWEST_IN_GROUP)
    .slice(0, most)
}

/**
 * Answers that share a word, put together: the word that is in the most answers takes them, then the one that is in the
 * most of those left, and so on (the greedy cover of Chvátal, 1979). Simple, and each group says why it is one.
 *
 * @returns groups with indices of answers; each answer in one group at most
 */
export function answerGroups(texts: readonly string[], most: number): { groups: CommonWord[]; others: number[] } {
  const words = texts.map((text) => new Set(wordsOf(text)))
  const left = new Set(texts.keys())
  const groups: CommonWord[] = []
  while (groups.length < most) {
    const [next] = byAnswers(words, left)
    if (!next || next.answers.length < FEWEST_IN_GROUP) break
    groups.push(next)
    next.answers.forEach((index) => left.delete(index))
  }
  return { groups, others: [...left] }
}

/** Words of some answers, the most frequent first. */
function byAnswers(words: readonly ReadonlySet<string>[], among: Iterable<number>): CommonWord[] {
  const answers = new Map<string, number[]>()
  for (const index of among)
    for (const word of words[index]!) {
      const those = answers.get(word)
      if (those) those.push(index)
      else answers.set(word, [index])
    }
  return [...answers]
    .map(([word, those]) => ({ word, answers: those }))
    .sort((a, b) => b.answers.length - a.answers.length || (a.word < b.word ? -1 : 1))
}
