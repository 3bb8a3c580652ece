import { existsSync, readFileSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { asc } from 'drizzle-orm'
import { connect } from '../server/database/connect'
import { site } from '../server/database/schema'
import { createToken } from '../server/services/accounts/tokens'
import { TOKEN_SCOPES, type TokenScope } from '../shared/accounts/token'
import { helpOf } from './helpOf'
import { HumanError } from './HumanError'
import { parseOptions } from './parseOptions'
import { pathFromCaller } from './pathFromCaller'
import { startCluster } from './stack/cluster'

const HELP = helpOf('token')

export async function run(args: string[]): Promise<number> {
  const { values } = parseOptions(args, HELP, {
    options: {
      name: { type: 'string' },
      scope: { type: 'string', default: 'read' },
      site: { type: 'string' },
      data: { type: 'string' },
      help: { type: 'boolean', default: false },
    },
  })
  if (values.help) {
    console.log(HELP)
    return 0
  }
  const name = values.name?.trim()
  if (!name) throw new HumanError(`Say which program the token is for, with --name.\n\n${HELP}`, 2)
  const scope = TOKEN_SCOPES.find((each) => each === values.scope)
  if (!scope) throw new HumanError('--scope takes read, edit or manage.', 2)
  const dataFolder = values.data === undefined ? resolve('.data') : pathFromCaller(values.data)
  console.log(await makeToken(dataFolder, values.site === undefined ? null : Number(values.site), name, scope))
  return 0
}

async function makeToken(dataFolder: string, siteId: number | null, name: string, scope: TokenScope): Promise<string> {
  const lock = join(dataFolder, 'vetch.pid')
  if (!existsSync(lock) || !existsSync(`/proc/${readFileSync(lock, 'utf8').trim()}`)) {
    throw new HumanError(
      `No Vetch runs with the data in ${dataFolder}. Start it first, or name its folder with --data.`,
    )
  }
  const { url } = await startCluster(dataFolder)
  const database = connect(url, 1)
  try {
    const sites = await database.select({ id: site.id }).from(site).orderBy(asc(site.id))
    const found = siteId === null ? sites[0] : sites.find(({ id }) => id === siteId)
    if (!found)
      throw new HumanError(siteId === null ? 'There is no site yet. Add one first.' : `There is no site ${siteId}.`)
    return (await createToken(database, found.id, null, name, scope)).token
  } finally {
    await database.$client.end()
  }
}
