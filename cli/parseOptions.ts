import { parseArgs, type ParseArgsConfig } from 'node:util'
import { HumanError } from './HumanError'

/** Options and other arguments of a command; an unknown one is answered with the command's help. */
export function parseOptions<Config extends ParseArgsConfig>(args: string[], help: string, config: Config) {
  try {
    return parseArgs<Config & { args: string[] }>({ ...config, args })
  } catch (error) {
    throw new HumanError(`${(error as Error).message}\n\n${help}`, 2)
  }
}
