import { developerText } from '../../../core/edits/developerText'
import { conditionInWords } from '../../../core/targeting/conditionWords'
import { pageRulesInWords } from '../../../core/targeting/pageWords'
import type { Database } from '../../database/connect'
import { audienceNames } from '../audiences/audienceSize'
import { HttpProblem } from '../HttpProblem'
import { findSite } from '../sites/sites'
import { findSheet } from './sheet'

/**
 * What the variants of a sheet change, as a text for developers.
 *
 * @param position - of one variant alone
 * @throws HttpProblem 404 for a variant that is not there
 */
export async function readDeveloperText(
  database: Database,
  siteId: number,
  experimentId: number,
  position?: number,
): Promise<string> {
  const { name, pageRules, audience, variants } = await findSheet(database, siteId, experimentId)
  const { address } = await findSite(database, siteId)
  const wanted = variants.filter((_, place) => place > 0 && (position === undefined || place === position))
  if (position !== undefined && wanted.length === 0) throw new HttpProblem(404, 'There is no such variant.')
  const names = { audiences: await audienceNames(database, siteId) }
  return developerText({
    name,
    pages: `${pageRulesInWords(pageRules)} on ${address}`,
    audience: audience ? conditionInWords(audience, names) : 'everybody',
    variants: wanted.map((each) => ({
      name: each.name,
      audience: each.audience ? conditionInWords(each.audience, names) : null,
      edits: each.edits,
    })),
  })
}
