import { readFileSync } from 'node:fs'
import { helpOf } from './helpOf'
import { HumanError } from './HumanError'
import { interfaceStrings } from './words/interfaceStrings'
import { avoidedWords, wordProblems } from './words/wordProblems'

const HELP = helpOf('words')

/** Lists what people read, file by file, and what is wrong with it. */
export async function run(args: string[]): Promise<number> {
  if (args.includes('--help')) {
    console.log(HELP)
    return 0
  }
  const onlyProblems = args.includes('--problems')
  const folders = args.filter((each) => !each.startsWith('--'))
  const unknown = args.find((each) => each.startsWith('--') && each !== '--problems')
  if (unknown) throw new HumanError(`There is no option ${unknown}.\n\n${HELP}`)
  const avoided = avoidedWords(readFileSync('docs/words.md', 'utf8'))
  let file = ''
  let count = 0
  for (const each of interfaceStrings()) {
    if (folders.length > 0 && !folders.some((folder) => each.file.startsWith(folder))) continue
    const problems = wordProblems(each.text, avoided)
    count += problems.length
    if (onlyProblems && problems.length === 0) continue
    if (file !== each.file) console.log(`\n${each.file}`)
    file = each.file
    console.log(`${String(each.line).padStart(5)}  ${each.text}${problems.map((problem) => `  ← ${problem}`).join('')}`)
  }
  return count > 0 ? 1 : 0
}
