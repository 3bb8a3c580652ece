import type { ExperimentSheet } from '../../../shared/experiments/replies'
import { BUCKETS } from '../../../core/assignment/assignment'
import type { PreflightFinding } from '../../../core/preflight/preflight'
import type { Queries } from '../../database/connect'
import { listGroups } from './groups'

/** What groups and holdouts leave to a draft, for the column beside the sheet. */
export async function sharingFindings(
  database: Queries,
  { siteId, id, state, share, terms }: ExperimentSheet,
  left: number,
): Promise<PreflightFinding[]> {
  const findings: PreflightFinding[] = []
  const percent = (part: number) => `${Number((part * 100).toFixed(2))} %`
  if (state === 'draft' && left < 1)
    findings.push({
      section: 'who',
      isStop: false,
      text: `A holdout keeps ${percent(1 - left)} of the visitors out of this.`,
    })
  if (terms.group === null) return findings
  const group = (await listGroups(database, siteId)).find((each) => each.id === terms.group)
  if (!group)
    return [
      ...findings,
      { section: 'who', isStop: true, text: 'Its group does not exist any more. Choose another, or none.' },
    ]
  const live = group.members.filter((each) => each.experiment !== id && each.state !== 'draft')
  const others = live.map(({ name }) => `“${name}”`).join(', ')
  if (state === 'draft' && group.free !== null && group.free < share)
    findings.push({
      section: 'who',
      isStop: true,
      text: `The group “${group.name}” has ${percent(group.free / BUCKETS)} of the visitors left, and this asks for ${percent(share / BUCKETS)}. Lower the traffic share, or end one of ${others}.`,
    })
  else if (live.length > 0)
    findings.push({
      section: 'who',
      isStop: false,
      text: `In the group “${group.name}” it shares no visitor with ${others}.`,
    })
  return findings
}
