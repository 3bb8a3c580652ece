/** What people and webhooks are told of. */
export const OCCURRENCE_KINDS = [
  'alarm',
  'paused',
  'verdict',
  'step',
  'started',
  'ended',
  'mentioned',
  'approval',
  'webhook',
] as const
export type OccurrenceKind = (typeof OCCURRENCE_KINDS)[number]

/** What each kind is called where people choose, and in letters. */
export const OCCURRENCE_WORDS: Record<OccurrenceKind, string> = {
  alarm: 'Alarm',
  paused: 'Experiment paused',
  verdict: 'Verdict reached',
  step: 'Step of a ramp-up waits',
  started: 'Experiment started',
  ended: 'Experiment ended',
  mentioned: 'You are mentioned',
  approval: 'Your approval is asked for',
  webhook: 'A webhook gave up',
}

/** Kinds that webhooks are sent: what is between people stays there. */
export const WEBHOOK_KINDS = [
  'alarm',
  'paused',
  'verdict',
  'step',
  'started',
  'ended',
] as const satisfies readonly OccurrenceKind[]
export type WebhookKind = (typeof WEBHOOK_KINDS)[number]

/** How somebody is told, the loudest first. Each is in the list of what is new, but for the last. */
export const WAYS = ['now', 'morning', 'list', 'none'] as const
export type Way = (typeof WAYS)[number]

/** Whose business something is. */
export interface Concern {
  kind: OccurrenceKind
  /** Of an experiment, or of the site as a whole. */
  experimentId: number | null
  /** Whether the person has started the experiment, or is asked or mentioned by name. */
  isOwn: boolean
  isOwner: boolean
}

/** What a person has chosen: of one experiment, or of all. */
export interface WayChoice {
  experimentId: number | null
  kind: OccurrenceKind
  way: Way
}

const OWN_WAYS: Record<OccurrenceKind, Way> = {
  alarm: 'now',
  paused: 'now',
  verdict: 'now',
  step: 'now',
  started: 'list',
  ended: 'morning',
  mentioned: 'now',
  approval: 'now',
  webhook: 'now',
}

/**
 * How a person is told who has chosen nothing: by a letter of what they started or are asked themselves, and owners of
 * what concerns the whole site; of everything else in the list of what is new.
 */
export function defaultWay({ kind, experimentId, isOwn, isOwner }: Concern): Way {
  const concernsOwners = isOwner && experimentId === null && (kind === 'alarm' || kind === 'webhook')
  return isOwn || concernsOwners ? OWN_WAYS[kind] : 'list'
}

/** How a person is told: by what they chose for the experiment, else for all, else by default. */
export function wayOf(concern: Concern, choices: readonly WayChoice[]): Way {
  const chosen = (experimentId: number | null) =>
    choices.find((each) => each.kind === concern.kind && each.experimentId === experimentId)?.way
  const ofExperiment = concern.experimentId === null ? undefined : chosen(concern.experimentId)
  return ofExperiment ?? chosen(null) ?? defaultWay(concern)
}

/** The next quieter way: from a letter at once to the morning letter, from there to the list. */
export function quieterWay(way: Way): Way {
  return way === 'now' ? 'morning' : way === 'morning' ? 'list' : way
}
