import { resolve } from 'node:path'
import { HumanError } from './HumanError'
import { parseOptions } from './parseOptions'
import { pathFromCaller } from './pathFromCaller'

/**
 * The file and the data folder that a command names.
 *
 * @param missing - what is said where no file is named
 * @returns null where help was asked for, which is printed
 */
export function readFileAndFolder(
  args: string[],
  help: string,
  missing: string,
): { file: string; dataFolder: string } | null {
  const { values, positionals } = parseOptions(args, help, {
    allowPositionals: true,
    options: { data: { type: 'string' }, help: { type: 'boolean', default: false } },
  })
  if (values.help) {
    console.log(help)
    return null
  }
  if (positionals.length !== 1) throw new HumanError(`${missing}\n\n${help}`, 2)
  const dataFolder = values.data === undefined ? resolve('.data') : pathFromCaller(values.data)
  return { file: pathFromCaller(positionals[0]!), dataFolder }
}
