import { resolve } from 'node:path'

/** A path given on the command line, which means the folder that `vetch` was called from and not its own. */
export function pathFromCaller(path: string): string {
  return resolve(process.env.VETCH_CALLED_FROM ?? '.', path)
}
