/**
 * A name with a number that none of some things has yet.
 *
 * @example freshName('Level', [{ name: 'Level 2' }]) // 'Level 3'
 */
export function freshName(word: string, things: readonly { name: string }[]): string {
  const taken = new Set(things.map(({ name }) => name))
  for (let number = things.length + 1; ; number++) if (!taken.has(`${word} ${number}`)) return `${word} ${number}`
}
