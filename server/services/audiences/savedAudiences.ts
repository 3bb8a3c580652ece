import type { AudienceVersionView, SavedAudienceView } from '../../../shared/audiences/replies'
import { and, asc, desc, eq, isNotNull, isNull, sql } from 'drizzle-orm'
import { inlined, type Audiences, type Group } from '../../../core/targeting/condition'
import { audiencesIn, circleOf, conditionProblems } from '../../../core/targeting/conditionProblems'
import type { AudienceUse, SavedAudienceInput } from '../../../shared/audiences/audience'
import type { Database, Queries } from '../../database/connect'
import { experiment, person, savedAudience, savedAudienceVersion, survey, variant } from '../../database/schema'
import { recordChange } from '../changes'
import { groupBy } from '../groupBy'
import { HttpProblem } from '../HttpProblem'
import { rolloutsWhere } from '../rollouts/liveRollouts'

/** Saved audiences of a site by their names, each with who uses it. */
export async function listAudiences(database: Queries, siteId: number): Promise<SavedAudienceView[]> {
  const rows = await database
    .select({ audience: savedAudience, version: savedAudienceVersion, by: person.name })
    .from(savedAudience)
    .innerJoin(
      savedAudienceVersion,
      and(
        eq(savedAudienceVersion.audienceId, savedAudience.id),
        eq(savedAudienceVersion.version, savedAudience.version),
      ),
    )
    .leftJoin(person, eq(person.id, savedAudienceVersion.createdBy))
    .where(and(eq(savedAudience.siteId, siteId), isNull(savedAudience.deletedAt)))
    .orderBy(asc(savedAudience.name), asc(savedAudience.id))
  const experiments = await database
    .select({
      id: experiment.id,
      name: experiment.name,
      state: experiment.state,
      audience: experiment.audience,
      versions: experiment.audienceVersions,
    })
    .from(experiment)
    .where(and(eq(experiment.siteId, siteId), isNull(experiment.deletedAt)))
    .orderBy(asc(experiment.id))
  const wordings = await database
    .select({ experimentId: variant.experimentId, audience: variant.audience })
    .from(variant)
    .where(and(eq(variant.siteId, siteId), isNotNull(variant.audience)))
  const asked = groupBy(wordings, ({ experimentId }) => experimentId)
  const surveys = await database
    .select({ id: survey.id, name: survey.name, state: survey.state, content: survey.content })
    .from(survey)
    .where(and(eq(survey.siteId, siteId), sql`${survey.content}->'audience' IS NOT NULL`))
    .orderBy(asc(survey.id))
  return rows.map(({ audience: { id, name }, version, by }) => ({
    id,
    name,
    version: version.version,
    conditions: version.conditions,
    problems: conditionProblems(version.conditions).map(({ text }) => text),
    uses: [
      ...experiments
        .filter(({ id: own, audience, versions }) => {
          const all = [audience, ...(asked.get(own) ?? []).map((wording) => wording.audience)]
          return all.some((each) => audiencesIn(each ?? undefined).includes(id)) || versions?.[id]
        })
        .map(({ audience: _, versions, ...each }): AudienceUse => ({
          kind: 'experiment',
          ...each,
          version: versions?.[id] ?? null,
        })),
      ...surveys
        .filter(({ content }) => audiencesIn(content.audience ?? undefined).includes(id))
        .map((each): AudienceUse => ({ kind: 'survey', id: each.id, name: each.name, isOver: each.state === 'ended' })),
      ...rows
        .filter((other) => audiencesIn(other.version.conditions).includes(id))
        .map((other): AudienceUse => ({ kind: 'audience', id: other.audience.id, name: other.audience.name })),
    ],
    changedAt: version.createdAt.toISOString(),
    changedBy: by,
  }))
}

export async function createAudience(
  database: Database,
  siteId: number,
  personId: number | null,
  input: SavedAudienceInput,
): Promise<SavedAudienceView> {
  return database.transaction(async (tx) => {
    const conditions = await checked(tx, siteId, null, input)
    const [made] = await tx
      .insert(savedAudience)
      .values({ siteId, name: input.name, createdBy: personId })
      .returning({ id: savedAudience.id })
    const audienceId = made!.id
    await tx.insert(savedAudienceVersion).values({ siteId, audienceId, version: 1, conditions, createdBy: personId })
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'audience',
      subjectId: audienceId,
      action: 'added',
      after: { name: input.name },
    })
    return find(tx, siteId, audienceId)
  })
}

/** Writes what a saved audience asks from now on, in the transaction of `updateAudience`. */
export async function updateAudienceIn(
  tx: Queries,
  siteId: number,
  personId: number | null,
  audienceId: number,
  input: SavedAudienceInput,
): Promise<SavedAudienceView> {
  await tx
    .select({ id: savedAudience.id })
    .from(savedAudience)
    .where(and(eq(savedAudience.siteId, siteId), eq(savedAudience.id, audienceId)))
    .for('no key update')
  const before = await find(tx, siteId, audienceId)
  const conditions = await checked(tx, siteId, audienceId, input)
  const isOther = JSON.stringify(conditions) !== JSON.stringify(before.conditions)
  const version = before.version + (isOther ? 1 : 0)
  await tx
    .update(savedAudience)
    .set({ name: input.name, version })
    .where(and(eq(savedAudience.siteId, siteId), eq(savedAudience.id, audienceId)))
  if (isOther)
    await tx.insert(savedAudienceVersion).values({ siteId, audienceId, version, conditions, createdBy: personId })
  await recordChange(tx, {
    siteId,
    personId,
    subject: 'audience',
    subjectId: audienceId,
    action: 'changed',
    before: { name: before.name, version: before.version },
    after: { name: input.name, version },
  })
  return find(tx, siteId, audienceId)
}

/** Takes an audience away that nothing asks for any more; what runs or ran keeps the version that it has. */
export async function deleteAudience(
  database: Database,
  siteId: number,
  personId: number | null,
  audienceId: number,
): Promise<void> {
  await database.transaction(async (tx) => {
    const { uses } = await find(tx, siteId, audienceId)
    // What an ended experiment has won goes on asking for its audience, also once it is served again.
    const rolledOut = new Set((await rolloutsWhere(tx, siteId)).map(({ from }) => from.id))
    const user = uses.find((use) => {
      if (use.kind === 'experiment') return use.state !== 'ended' || rolledOut.has(use.id)
      // A survey that has ended may begin again.
      return true
    })
    if (user) throw new HttpProblem(409, `“${user.name}” uses this audience. Take it out there before.`)
    await tx
      .update(savedAudience)
      .set({ deletedAt: new Date() })
      .where(and(eq(savedAudience.siteId, siteId), eq(savedAudience.id, audienceId)))
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'audience',
      subjectId: audienceId,
      action: 'deleted',
    })
  })
}

/** What an audience asked before, the latest first. */
export async function listAudienceVersions(
  database: Queries,
  siteId: number,
  audienceId: number,
): Promise<AudienceVersionView[]> {
  await find(database, siteId, audienceId)
  const rows = await database
    .select({ version: savedAudienceVersion, by: person.name })
    .from(savedAudienceVersion)
    .leftJoin(person, eq(person.id, savedAudienceVersion.createdBy))
    .where(and(eq(savedAudienceVersion.siteId, siteId), eq(savedAudienceVersion.audienceId, audienceId)))
    .orderBy(desc(savedAudienceVersion.version))
  return rows.map(({ version: { version, conditions, createdAt }, by }) => ({
    version,
    conditions,
    madeAt: createdAt.toISOString(),
    madeBy: by,
  }))
}

async function find(database: Queries, siteId: number, audienceId: number): Promise<SavedAudienceView> {
  const found = (await listAudiences(database, siteId)).find(({ id }) => id === audienceId)
  if (!found) throw new HttpProblem(404, 'This audience does not exist on this site. It may have been deleted.')
  return found
}

/** Conditions that may be kept: somebody is asked for, under a name of its own, in no circle. */
async function checked(
  tx: Queries,
  siteId: number,
  audienceId: number | null,
  { name, conditions }: SavedAudienceInput,
): Promise<Group> {
  const refuse = (field: 'name' | 'conditions', message: string) => new HttpProblem(422, message, { [field]: message })
  if (!conditions || conditions.of.length === 0) throw refuse('conditions', 'Say who is in it: add a condition.')
  const others = (await listAudiences(tx, siteId)).filter(({ id }) => id !== audienceId)
  if (others.some((other) => other.name.toLowerCase() === name.toLowerCase()))
    throw refuse('name', 'An audience has this name already.')
  const known = new Set(others.map(({ id }) => id))
  const unknown = audiencesIn(conditions).find((id) => !known.has(id) && id !== audienceId)
  if (unknown !== undefined) throw refuse('conditions', 'An audience in these conditions does not exist any more.')
  const all = Object.fromEntries(others.map((other) => [other.id, other.conditions]))
  const circle = audienceId === null ? null : circleOf(audienceId, { ...all, [audienceId]: conditions })
  if (circle) {
    const names = circle.map((id) => (id === audienceId ? name : others.find((other) => other.id === id)!.name))
    throw refuse('conditions', `These audiences ask for each other in a circle: ${names.join(' → ')}.`)
  }
  return conditions
}

/** Conditions of the saved audiences of a site, as they are now. */
export async function currentAudiences(database: Queries, siteId: number): Promise<Audiences> {
  return Object.fromEntries((await listAudiences(database, siteId)).map(({ id, conditions }) => [id, conditions]))
}

/** The versions that an audience refers to at the moment, through each other too: what a start writes down. */
export async function versionsOf(database: Queries, siteId: number, audience: Group): Promise<Record<number, number>> {
  const all = new Map((await listAudiences(database, siteId)).map((each) => [each.id, each]))
  const versions: Record<number, number> = {}
  const note = (ids: readonly number[]): void => {
    for (const id of ids) {
      const found = all.get(id)
      if (!found || versions[id] !== undefined) continue
      versions[id] = found.version
      note(audiencesIn(found.conditions))
    }
  }
  note(audiencesIn(audience))
  return versions
}

/** For an audience with the versions that it was started with: its conditions, with those of saved audiences in place. */
export async function audienceInliner(
  database: Queries,
  siteId: number,
): Promise<(audience: Group, versions: Readonly<Record<string, number>> | null) => Group> {
  const rows = await database.select().from(savedAudienceVersion).where(eq(savedAudienceVersion.siteId, siteId))
  const current = rows.length > 0 ? await currentAudiences(database, siteId) : {}
  return (audience, versions) => {
    const pinned = rows.filter(({ audienceId, version }) => versions?.[audienceId] === version)
    const own = Object.fromEntries(pinned.map(({ audienceId, conditions }) => [audienceId, conditions]))
    const whole = inlined(audience, versions ? own : current)
    return 'join' in whole ? whole : { join: 'all', of: [whole] }
  }
}
