import type { Schema } from 'yup'
import { ownerSchema, signInSchema, type Role } from '../account'
import { collectedBatchSchema } from '../collect'
import { experimentPatchSchema, newExperimentSchema, pointingSchema } from '../experiment'
import { installationCheckSchema, newSiteSchema, sitePatchSchema } from '../site'

/**
 * Who may call an operation: anybody; whoever is signed in; the owner of an organisation;
 * or, for paths below a site, a member of its organisation with at least the role.
 */
export type Access = 'anyone' | 'person' | 'organisation-owner' | Role

export interface Operation {
  method: 'get' | 'post' | 'patch' | 'delete'
  /** Path with its parameters in braces. */
  path: string
  access: Access
  summary: string
  body?: Schema
  /** What a successful answer holds, where it is not JSON. */
  produces?: string
}

const SITE = '/api/sites/{site}'
const EXPERIMENT = `${SITE}/experiments/{experiment}`

/** Every operation of the API: routes take their access and input from here, and so does its description. */
export const OPERATIONS = {
  readHealth: {
    method: 'get',
    path: '/api/health',
    access: 'anyone',
    summary: 'Whether Vetch and its database answer',
  },
  describeApi: { method: 'get', path: '/api/openapi.json', access: 'anyone', summary: 'This description' },
  readAccount: {
    method: 'get',
    path: '/api/account',
    access: 'anyone',
    summary: 'Who is signed in and which sites they may see',
  },
  createOwner: {
    method: 'post',
    path: '/api/account/owner',
    access: 'anyone',
    summary: 'Create the first account; refused once there is one',
    body: ownerSchema,
  },
  signIn: { method: 'post', path: '/api/account/sign-in', access: 'anyone', summary: 'Sign in', body: signInSchema },
  signOut: { method: 'post', path: '/api/account/sign-out', access: 'anyone', summary: 'Sign out' },
  createSite: {
    method: 'post',
    path: '/api/sites',
    access: 'organisation-owner',
    summary: 'Add a site',
    body: newSiteSchema,
  },
  readSite: { method: 'get', path: SITE, access: 'viewer', summary: 'A site with its script line' },
  updateSite: {
    method: 'patch',
    path: SITE,
    access: 'owner',
    summary: 'Change a site’s settings',
    body: sitePatchSchema,
  },
  checkInstallation: {
    method: 'post',
    path: `${SITE}/installation-check`,
    access: 'editor',
    summary: 'Fetch a page of the site and look for the script line',
    body: installationCheckSchema,
  },
  readToday: { method: 'get', path: `${SITE}/today`, access: 'viewer', summary: 'What needs a person now' },
  listExperiments: {
    method: 'get',
    path: `${SITE}/experiments`,
    access: 'viewer',
    summary: 'The experiments of a site',
  },
  exportExperiments: {
    method: 'get',
    path: `${SITE}/experiments.csv`,
    access: 'viewer',
    summary: 'The experiments of a site as a table',
    produces: 'text/csv',
  },
  createExperiment: {
    method: 'post',
    path: `${SITE}/experiments`,
    access: 'editor',
    summary: 'Create a draft',
    body: newExperimentSchema,
  },
  readExperiment: { method: 'get', path: EXPERIMENT, access: 'viewer', summary: 'The sheet of an experiment' },
  updateExperiment: {
    method: 'patch',
    path: EXPERIMENT,
    access: 'editor',
    summary: 'Change parts of a sheet',
    body: experimentPatchSchema,
  },
  deleteExperiment: {
    method: 'delete',
    path: EXPERIMENT,
    access: 'editor',
    summary: 'Delete a draft or an ended experiment',
  },
  restoreExperiment: {
    method: 'post',
    path: `${EXPERIMENT}/restore`,
    access: 'editor',
    summary: 'Bring a deleted experiment back',
  },
  copyExperiment: {
    method: 'post',
    path: `${EXPERIMENT}/copy`,
    access: 'editor',
    summary: 'Make a draft with the same content',
  },
  startExperiment: {
    method: 'post',
    path: `${EXPERIMENT}/start`,
    access: 'editor',
    summary: 'Start; freezes variants, page, metric and plan',
  },
  pauseExperiment: {
    method: 'post',
    path: `${EXPERIMENT}/pause`,
    access: 'editor',
    summary: 'Show everybody the original for now',
  },
  resumeExperiment: { method: 'post', path: `${EXPERIMENT}/resume`, access: 'editor', summary: 'Go on after a pause' },
  endExperiment: { method: 'post', path: `${EXPERIMENT}/end`, access: 'editor', summary: 'End for good' },
  readResults: {
    method: 'get',
    path: `${EXPERIMENT}/results`,
    access: 'viewer',
    summary: 'What happened so far, and the verdict',
  },
  exportResults: {
    method: 'get',
    path: `${EXPERIMENT}/results.csv`,
    access: 'viewer',
    summary: 'The results as a table',
    produces: 'text/csv',
  },
  readChanges: { method: 'get', path: `${EXPERIMENT}/changes`, access: 'viewer', summary: 'Who changed what' },
  openPointing: {
    method: 'post',
    path: `${EXPERIMENT}/pointing`,
    access: 'editor',
    summary: 'Get a short-lived token to point at elements of a page',
    body: pointingSchema,
  },
  collect: {
    method: 'post',
    path: '/collect',
    access: 'anyone',
    summary: 'Take a batch of events from a visitor’s page (JSON, sent as text/plain)',
    body: collectedBatchSchema,
  },
  readSnippet: {
    method: 'get',
    path: '/s/{key}.js',
    access: 'anyone',
    summary: 'The snippet with the compiled site file',
    produces: 'text/javascript',
  },
  readSiteFile: { method: 'get', path: '/s/{key}.json', access: 'anyone', summary: 'The compiled site file' },
  readOverlay: {
    method: 'get',
    path: '/overlay.js',
    access: 'anyone',
    summary: 'What is drawn on a page while someone points at its elements; needs a valid token',
    produces: 'text/javascript',
  },
} as const satisfies Record<string, Operation>

export type OperationId = keyof typeof OPERATIONS
