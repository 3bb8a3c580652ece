import { HumanError } from './HumanError'

interface Range {
  above?: number
  below?: number
  most?: number
  whole?: boolean
}

/** A number given on the command line, within a range. */
export function numberOption(name: string, text: string, range: Range = {}): number {
  const value = text.trim() === '' ? NaN : Number(text)
  const fits =
    Number.isFinite(value) &&
    !(range.whole && !Number.isInteger(value)) &&
    !(range.above !== undefined && value <= range.above) &&
    !(range.below !== undefined && value >= range.below) &&
    !(range.most !== undefined && value > range.most)
  if (fits) return value
  const bounds = [
    range.above !== undefined ? `above ${range.above}` : '',
    range.below !== undefined ? `below ${range.below}` : '',
    range.most !== undefined ? `at most ${range.most.toLocaleString('en-US')}` : '',
  ].filter(Boolean)
  throw new HumanError(
    `--${name} takes a ${range.whole ? 'whole ' : ''}number${bounds.length > 0 ? ` ${bounds.join(' and ')}` : ''}; "${text}" is not one.`,
    2,
  )
}

/** Numbers separated by commas. */
export function numbersOption(name: string, text: string, range: Range = {}): number[] {
  return text.split(',').map((part) => numberOption(name, part, range))
}
