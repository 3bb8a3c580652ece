import type { SurveyAnswer } from '../survey/survey'

/**
 * What people do on a page beside clicking and sending forms: told for the pages and the share of visitors that a site
 * chooses. Never what anybody typed.
 */
export const BEHAVIOR_TYPES = ['rage', 'dead', 'reading', 'form', 'field'] as const
export type BehaviorType = (typeof BEHAVIOR_TYPES)[number]

/** Equal parts of a page from top to bottom, for which the time in view is told. */
export const BANDS = 20
/** Most fields of a form that are told. */
export const MOST_FIELDS = 25

/** Clicks that followed each other quickly in one place. */
export interface RageClick {
  clicks: number
}
/** How long and how far a page was looked at since it was last told; what one view tells adds up. */
export interface Reading {
  /** ms in which the page could be seen */
  seen: number
  /** How far down the window has reached, and how tall the page was, in CSS pixels. */
  depth: number
  height: number
  /** ms in which each part of the page was in the window, from top to bottom */
  bands: number[]
}
/** A form that came into view, with its fields in their order. */
export interface SeenForm {
  fields: { name: string; label: string; kind: string }[]
}
/** One visit to a field of a form, from its focus to its leaving. */
export interface FieldVisit {
  form: string
  /** ms in the field, and until something was first changed; null where nothing was */
  time: number
  hesitation: number | null
  /** Empty when it was left. */
  isBlank: boolean
  /** Held something when it was entered, and was changed. */
  isRefill: boolean
}
/** A survey was shown, and somebody answered one of its questions. */
export const SURVEY_TYPES = ['asked', 'answer'] as const
export type SurveyType = (typeof SURVEY_TYPES)[number]
export interface Asked {
  survey: number
}
export interface Answered extends SurveyAnswer {
  survey: number
  /** Id of the question. */
  question: string
}
/** Which of the elements that edits are of a browser has looked for, and which of them it did not find, by their ids. */
export interface LookedFor {
  looked: string[]
  lost: string[]
  /** Found only by what they say. */
  byClues: string[]
}
/** The longest answer that is taken, in characters. */
export const LONGEST_ANSWER = 2000

export type Behavior = RageClick | Reading | SeenForm | FieldVisit | Asked | Answered | LookedFor
