import {
  commentSchema,
  expectationSchema,
  handPlaceSchema,
  hypothesisChangeSchema,
  hypothesisSchema,
  rankingTermsSchema,
  similarQuery,
  stageSchema,
  threadQuery,
} from './hypothesis'
import { importSchema } from './hypothesisTable'
import { attachmentQuery } from '../findings/finding'
import { attachmentReply } from '../findings/replies'
import { pageSchema } from '../api/paging'
import { purposeSchema } from '../experiments/experimentList'
import { changesReply, sheetReply } from '../experiments/replies'
import * as replies from './replies'
import { answers, answersFile, confirms, type Operation } from '../api/operation'
import { SITE } from '../sites/operations'

const LIST = `${SITE}/hypotheses`
const HYPOTHESIS = `${LIST}/{hypothesis}`

export const HYPOTHESES = {
  listHypotheses: {
    method: 'get',
    path: LIST,
    access: 'viewer',
    summary: 'Hypotheses of the site by their places, with what they are worth and cost to learn',
    reply: answers(replies.hypothesesReply),
  },
  createHypothesis: {
    method: 'post',
    path: LIST,
    access: 'editor',
    summary: 'Write a hypothesis, from findings or from nothing',
    body: hypothesisSchema,
    reply: answers(replies.hypothesisReply),
  },
  exportHypotheses: {
    method: 'get',
    path: `${SITE}/hypotheses.csv`,
    access: 'viewer',
    summary: 'All hypotheses as CSV, with what was computed; can be imported again',
    produces: 'text/csv',
    reply: answersFile(),
  },
  importHypotheses: {
    method: 'post',
    path: `${LIST}/import`,
    access: 'editor',
    summary: 'Import hypotheses, each by itself: those that are refused are named, the others are kept',
    body: importSchema,
    reply: answers(replies.importReply),
  },
  readHypothesis: {
    method: 'get',
    path: HYPOTHESIS,
    access: 'viewer',
    summary: 'A hypothesis with its findings, experiments and comments',
    reply: answers(replies.hypothesisReply),
  },
  updateHypothesis: {
    method: 'patch',
    path: HYPOTHESIS,
    access: 'editor',
    summary: 'Change what a hypothesis says',
    body: hypothesisChangeSchema,
    reply: answers(replies.hypothesisReply),
  },
  deleteHypothesis: {
    method: 'delete',
    path: HYPOTHESIS,
    access: 'editor',
    summary: 'Take a hypothesis out of sight',
    reply: confirms('deleted'),
  },
  restoreHypothesis: {
    method: 'post',
    path: `${HYPOTHESIS}/restore`,
    access: 'editor',
    summary: 'Bring a deleted hypothesis back',
    reply: answers(replies.hypothesisReply),
  },
  setHypothesisStage: {
    method: 'post',
    path: `${HYPOTHESIS}/stage`,
    access: 'editor',
    summary: 'Move a hypothesis to another stage; setting aside and taking up again say why',
    body: stageSchema,
    reply: answers(replies.hypothesisReply),
  },
  placeHypothesis: {
    method: 'post',
    path: `${HYPOTHESIS}/place`,
    access: 'editor',
    summary: 'Put a hypothesis to a place of the list by hand, or give it back to the ranking',
    body: handPlaceSchema,
    reply: answers(replies.hypothesisReply),
  },
  listHypothesisChanges: {
    method: 'get',
    path: `${HYPOTHESIS}/changes`,
    access: 'viewer',
    summary: 'Who changed what on a hypothesis, the latest first',
    query: pageSchema,
    reply: answers(changesReply),
  },
  addHypothesisComment: {
    method: 'post',
    path: `${HYPOTHESIS}/comments`,
    access: 'viewer',
    summary: 'Comment on a hypothesis; @ and a name mention a member',
    body: commentSchema,
    reply: answers(replies.commentsReply),
  },
  deleteHypothesisComment: {
    method: 'delete',
    path: `${HYPOTHESIS}/comments/{comment}`,
    access: 'viewer',
    summary: 'Delete a comment of one’s own',
    reply: confirms('deleted'),
  },
  addHypothesisFile: {
    method: 'post',
    path: `${HYPOTHESIS}/attachments`,
    access: 'editor',
    summary: 'Attach a file to a hypothesis: the body is the file itself',
    query: attachmentQuery,
    reply: answers(attachmentReply),
  },
  readHypothesisFile: {
    method: 'get',
    path: `${HYPOTHESIS}/attachments/{attachment}`,
    access: 'viewer',
    summary: 'A file of a hypothesis',
    produces: 'application/octet-stream',
    reply: answersFile(),
  },
  deleteHypothesisFile: {
    method: 'delete',
    path: `${HYPOTHESIS}/attachments/{attachment}`,
    access: 'editor',
    summary: 'Take a file away from a hypothesis',
    reply: confirms('deleted'),
  },
  makeExperiment: {
    method: 'post',
    path: `${HYPOTHESIS}/experiment`,
    access: 'editor',
    summary: 'Make a draft that tests a hypothesis, or serves what it proposes',
    body: purposeSchema,
    reply: answers(sheetReply),
  },
  assessIdea: {
    method: 'post',
    path: `${SITE}/idea-assessment`,
    access: 'viewer',
    summary: 'Reach, rate, worth and learning cost of an idea that is not written yet',
    body: expectationSchema,
    reply: answers(replies.assessmentReply),
  },
  refreshIdeas: {
    method: 'post',
    path: `${SITE}/idea-figures`,
    access: 'viewer',
    summary:
      'Compute some of the figures of hypotheses that are missing or of another day; call again until none is left',
    reply: answers(replies.refreshedReply),
  },
  findSimilar: {
    method: 'get',
    path: `${SITE}/similar-ideas`,
    access: 'viewer',
    summary: 'Hypotheses and experiments that are like a text, with what came of them',
    query: similarQuery,
    reply: answers(replies.similarReply),
  },
  readThread: {
    method: 'get',
    path: `${SITE}/thread`,
    access: 'viewer',
    summary: 'What leads to a finding, hypothesis or experiment, and what follows from it',
    query: threadQuery,
    reply: answers(replies.threadReply),
  },
  updateRankingTerms: {
    method: 'patch',
    path: `${SITE}/ranking-terms`,
    access: 'editor',
    summary: 'Change by what hypotheses are ranked: costs, payback, scores of the team’s own, limits of stages',
    body: rankingTermsSchema,
    reply: answers(replies.termsReply),
  },
} as const satisfies Record<string, Operation>
