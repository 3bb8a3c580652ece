import { measureAssign } from '../bench/assign'
import { measureDatabase } from '../bench/database'
import type { Measurement } from '../bench/measurement'
import { measureSnippet } from '../bench/snippet'
import { HumanError } from './HumanError'
import { buildApplication } from './stack/build'

const NAMES = ['assign', 'snippet', 'intake', 'fold', 'results']

/** Prints one JSON line a measurement; names choose among them. */
export async function run(args: string[]): Promise<number> {
  if (args.includes('--help')) {
    console.log(`Usage: ./vetch bench [${NAMES.join(' | ')} …]\n\nMeasures each against a reference in the same run; all of them without a name.`)
    return 0
  }
  const unknown = args.find((name) => !NAMES.includes(name))
  if (unknown) throw new HumanError(`There is no measurement "${unknown}". There are: ${NAMES.join(', ')}.`)
  const wanted = new Set(args.length > 0 ? args : NAMES)
  const print = (measurements: Measurement[]) => measurements.forEach((each) => console.log(JSON.stringify(each)))
  if (wanted.has('assign')) print(await measureAssign())
  if (wanted.size > 1 || !wanted.has('assign')) await buildApplication()
  if (wanted.has('snippet')) print(await measureSnippet())
  print(await measureDatabase(wanted))
  return 0
}
