import type { Database } from '../../server/database/connect'
import { person } from '../../server/database/schema'
import { addComment, answerApproval, askApproval } from '../../server/services/experiments/review'
import type { DemoExperiment } from './experiments'

/** What the team says of its drafts, and who was asked to approve of them. */
export async function addReviews(
  database: Database,
  siteId: number,
  experiments: readonly (Pick<DemoExperiment, 'review'> & { id: number })[],
): Promise<void> {
  const people = new Map((await database.select().from(person)).map(({ id, name }) => [name, id]))
  for (const { id: experimentId, review } of experiments) {
    if (!review) continue
    const by = (name: string) => ({ siteId, experimentId, personId: people.get(name)! })
    for (const { name, words } of review.comments) await addComment(database, by(name), words)
    for (const { name, askedBy, answer, words } of review.approvals) {
      await askApproval(database, by(askedBy), people.get(name)!)
      if (answer) await answerApproval(database, by(name), { answer, words: words ?? '' })
    }
  }
}
