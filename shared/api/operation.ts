import type { InferType, Schema } from '../yup'
import type { Role } from '../accounts/account'
import { exactly, yesOrNo } from './replyPieces'

/**
 * Who may call an operation: anybody; whoever is signed in; the owner of an organization;
 * or, for paths below a site, a member of its organisation with at least the role, or a token of the site with the
 * scope that answers to it.
 */
export type Access = 'anyone' | 'person' | 'organisation-owner' | Role

declare const ANSWER: unique symbol

/** What an operation answers with: a type that clients and handlers share, and its schema where it is JSON. */
export interface Answer<Reply> {
  readonly [ANSWER]?: Reply
  readonly schema: Schema | null
}

export function answers<Any extends Schema>(schema: Any): Answer<InferType<Any>> {
  return { schema }
}

/** Says that it was done. */
export function confirms<Done extends string>(done: Done): Answer<Record<Done, boolean>> {
  return answers(exactly({ [done]: yesOrNo() })) as Answer<Record<Done, boolean>>
}

/** An answer that is a file rather than a document of ours. */
export function answersFile(): Answer<string> {
  return { schema: null }
}

/** An answer that goes on for as long as somebody listens. */
export function answersStream(): Answer<void> {
  return { schema: null }
}

export interface Operation {
  method: 'get' | 'post' | 'patch' | 'delete'
  /** Path with its parameters in braces. */
  path: string
  access: Access
  summary: string
  query?: Schema
  body?: Schema
  reply: Answer<unknown>
  /** What a successful answer holds, where it is not JSON. */
  produces?: string
}

/** Parameters that are texts; all others are ids, whole numbers from 1 on. */
export const TEXT_PARAMETERS = ['key', 'visitor', 'visit', 'metric', 'person'] as const
type TextParameter = (typeof TEXT_PARAMETERS)[number]

/** The parameters of a path, read off its braces. */
export type PathParameters<Path extends string> = Path extends `${string}{${infer Name}}${infer Rest}`
  ? { [Key in Name]: Key extends TextParameter ? string : number } & PathParameters<Rest>
  : unknown

export type BodyOf<Any extends Operation> = Any extends { body: infer Body extends Schema }
  ? InferType<Body>
  : undefined
export type QueryOf<Any extends Operation> = Any extends { query: infer Query extends Schema }
  ? InferType<Query>
  : undefined
export type ReplyOf<Any extends Operation> = Any['reply'] extends Answer<infer Reply> ? Reply : never

/** Names of the parameters in a path. */
export function parametersOf(path: string): string[] {
  return [...path.matchAll(/\{(\w+)\}/g)].map((match) => match[1]!)
}

/** A path with its parameters filled in. */
export function fillPath(path: string, parameters: Readonly<Record<string, string | number>>): string {
  return path.replace(/\{(\w+)\}/g, (_, name: string) => encodeURIComponent(String(parameters[name])))
}
