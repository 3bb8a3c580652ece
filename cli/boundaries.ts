import { alphaSpent, alphaSpentBySide, spendingBoundaries, type Spending } from '../core/statistics/groupSequential'
import { helpOf } from './helpOf'
import { HumanError } from './HumanError'
import { numberOption, numbersOption } from './numberOptions'
import { parseOptions } from './parseOptions'

const HELP = helpOf('boundaries')
const MOST_LOOKS = 100

export async function run(args: string[]): Promise<number> {
  const values = parseOptions(args, HELP, {
    options: {
      looks: { type: 'string' },
      spending: { type: 'string', default: 'obrien-fleming' },
      fractions: { type: 'string' },
      alpha: { type: 'string', default: '0.05' },
      sides: { type: 'string', default: 'each' },
      help: { type: 'boolean', default: false },
    },
  }).values
  if (values.help) {
    console.log(HELP)
    return 0
  }
  const alpha = numberOption('alpha', values.alpha, { above: 0, below: 1 })
  const spending = values.spending
  if (spending !== 'obrien-fleming' && spending !== 'pocock')
    throw new HumanError('--spending takes obrien-fleming or pocock.', 2)
  if (values.sides !== 'each' && values.sides !== 'together') throw new HumanError('--sides takes each or together.', 2)
  const fractions = readFractions(values.looks, values.fractions)
  console.log(JSON.stringify(boundaries(fractions, spending, alpha, values.sides), null, 2))
  return 0
}

function readFractions(looks: string | undefined, list: string | undefined): number[] {
  if (looks === undefined && list === undefined)
    throw new HumanError(`Say how many looks there are with --looks.\n\n${HELP}`, 2)
  const count =
    looks === undefined ? undefined : numberOption('looks', looks, { whole: true, above: 0, most: MOST_LOOKS })
  if (list === undefined) return Array.from({ length: count! }, (_, look) => (look + 1) / count!)
  const fractions = numbersOption('fractions', list)
  if (count !== undefined && count !== fractions.length)
    throw new HumanError(`--looks says ${count}, but --fractions names ${fractions.length}.`, 2)
  if (fractions.length > MOST_LOOKS) throw new HumanError(`There are at most ${MOST_LOOKS} looks.`, 2)
  if (fractions.some((fraction, look) => !(fraction > (fractions[look - 1] ?? 0) && fraction <= 1)))
    throw new HumanError('--fractions must ascend, above 0 and up to 1, such as 0.2,0.5,1.', 2)
  return fractions
}

function boundaries(fractions: number[], spending: Spending, alpha: number, sides: 'each' | 'together') {
  const spend = sides === 'each' ? alphaSpentBySide : alphaSpent
  const spent = fractions.map((fraction) => spend(spending, fraction, alpha))
  const z = spendingBoundaries(fractions, spent).map((bound) => (Number.isFinite(bound) ? bound : null))
  return {
    z,
    alphaSpent: spent,
    ...(z.includes(null) ? { why: 'Next to no error is spent at the first looks, so no result can cross there.' } : {}),
  }
}
