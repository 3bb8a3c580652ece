/** Words of a sentence of the docs at most. */
const MOST_WORDS = 30

/**
 * Sentences of a text in Markdown that are too long. A colon or a semicolon ends one: what follows is read by itself.
 * Headings, tables and code are none, and signs of a formula are no words.
 */
export function longSentences(markdown: string): string[] {
  return markdown
    .replaceAll(/```.*?```/gs, '')
    .split('\n')
    .filter((line) => !/^(?:#|\|)/.test(line))
    .flatMap((line) => line.replaceAll(/`[^`]*`/g, 'code').split(/(?<=[.!?:;])\s+/))
    .filter((sentence) => sentence.split(/\s+/).filter((word) => /[a-z]/i.test(word)).length > MOST_WORDS)
}
