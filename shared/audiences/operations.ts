import { audienceSizeSchema, savedAudienceSchema } from './audience'
import { pointingSchema } from '../experiments/pointing'
import { dryRunSchema, personaSchema } from './persona'
import {
  audienceReply,
  audienceSizeReply,
  audiencesReply,
  audienceVersionsReply,
  decisionsReply,
  dryRunReply,
  panelReply,
  pastDryRunReply,
  personaReply,
  personasReply,
} from './replies'
import { answers, confirms, type Operation } from '../api/operation'
import { SITE } from '../sites/operations'

const AUDIENCE = `${SITE}/audiences/{audience}`
const PERSONA = `${SITE}/personas/{persona}`

export const AUDIENCES = {
  listAudiences: {
    method: 'get',
    path: `${SITE}/audiences`,
    access: 'viewer',
    summary: 'Saved audiences with who uses them',
    reply: answers(audiencesReply),
  },
  createAudience: {
    method: 'post',
    path: `${SITE}/audiences`,
    access: 'editor',
    summary: 'Save conditions on visitors under a name',
    body: savedAudienceSchema,
    reply: answers(audienceReply),
  },
  updateAudience: {
    method: 'patch',
    path: AUDIENCE,
    access: 'editor',
    summary: 'Change an audience: what runs goes on with the version that it has',
    body: savedAudienceSchema,
    reply: answers(audienceReply),
  },
  deleteAudience: {
    method: 'delete',
    path: AUDIENCE,
    access: 'editor',
    summary: 'Delete an audience that nothing asks for',
    reply: confirms('deleted'),
  },
  listAudienceVersions: {
    method: 'get',
    path: `${AUDIENCE}/versions`,
    access: 'viewer',
    summary: 'What an audience asked before',
    reply: answers(audienceVersionsReply),
  },
  sizeAudience: {
    method: 'post',
    path: `${SITE}/audience-size`,
    access: 'viewer',
    summary: 'How many visitors of the last four weeks conditions would have let in',
    body: audienceSizeSchema,
    reply: answers(audienceSizeReply),
  },
  listPersonas: {
    method: 'get',
    path: `${SITE}/personas`,
    access: 'viewer',
    summary: 'Made-up visitors for dry runs',
    reply: answers(personasReply),
  },
  createPersona: {
    method: 'post',
    path: `${SITE}/personas`,
    access: 'editor',
    summary: 'Save a made-up visitor',
    body: personaSchema,
    reply: answers(personaReply),
  },
  updatePersona: {
    method: 'patch',
    path: PERSONA,
    access: 'editor',
    summary: 'Change a made-up visitor',
    body: personaSchema,
    reply: answers(personaReply),
  },
  deletePersona: {
    method: 'delete',
    path: PERSONA,
    access: 'editor',
    summary: 'Delete a made-up visitor',
    reply: confirms('deleted'),
  },
  dryRun: {
    method: 'post',
    path: `${SITE}/dry-run`,
    access: 'viewer',
    summary: 'What a made-up visitor would get on a page, and why',
    body: dryRunSchema,
    reply: answers(dryRunReply),
  },
  openPanel: {
    method: 'post',
    path: `${SITE}/panel`,
    access: 'viewer',
    summary: 'Get a link, for an hour, that shows on the live page what runs there and why; nothing is counted',
    body: pointingSchema,
    reply: answers(panelReply),
  },
  decide: {
    method: 'post',
    path: `${SITE}/decisions`,
    access: 'viewer',
    summary: 'What a visitor gets on a page of what runs, as their browser would decide; nothing is counted',
    body: dryRunSchema,
    reply: answers(decisionsReply),
  },
  dryRunPast: {
    method: 'get',
    path: `${SITE}/experiments/{experiment}/dry-run`,
    access: 'viewer',
    summary: 'What would have become of the visitors of the last week with an experiment',
    reply: answers(pastDryRunReply),
  },
} as const satisfies Record<string, Operation>
