import { FetchError } from 'ofetch'
import { fillPath, type BodyOf, type Operation, type PathParameters, type ReplyOf } from '~~/shared/api/operation'
import { OPERATIONS, type OperationId, type Operations } from '~~/shared/api/operations'

/** A refused or failed call, in words for the person, with messages by field where fields are to blame. */
export class ApiProblem extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly fields: Record<string, string>,
  ) {
    super(message)
  }
}

/** What an operation is called with: the parameters of its path, and what it takes beside. */
export type CallInput<Id extends OperationId> = InputOf<Operations[Id]>
type InputOf<Any extends Operation> = PathParameters<Any['path']> & {
  /** The body as it is, for operations that take a file. */
  file?: Blob
} & (Any extends { query: unknown } ? { query?: Record<string, string | number | undefined> } : unknown) &
  (Any extends { body: unknown } ? { body: Loose<BodyOf<Any>> } : unknown)

/** The server fills in what has a default, and checks the rest with the same schema. */
type Loose<Body> = Body extends object ? { [Key in keyof Body]?: unknown } : Body

/** Calls Vetch's API. Failures come as `ApiProblem`; whoever is no longer signed in is led to the sign-in. */
export function useApi() {
  const router = useRouter()

  return async function call<Id extends OperationId>(id: Id, input: CallInput<Id>): Promise<ReplyOf<Operations[Id]>> {
    const signal = loadSignal()
    const { method, path }: Operation = OPERATIONS[id]
    const { query, body, file, ...parameters } = input as {
      query?: Record<string, unknown>
      body?: object
      file?: Blob
    } & Record<string, string | number>
    try {
      const reply: unknown = await $fetch<unknown>(fillPath(path, parameters), {
        method: method.toUpperCase() as 'GET',
        query,
        body: file ?? body,
        retry: 0,
        signal,
      })
      return reply as ReplyOf<Operations[Id]>
    } catch (error) {
      const problem = asProblem(error)
      if (problem.status === 401 && !path.startsWith('/api/account')) {
        useAccountStore().forget()
        await router.push({ path: '/sign-in', query: { next: router.currentRoute.value.fullPath } })
      }
      throw problem
    }
  }
}

function asProblem(error: unknown): ApiProblem {
  if (!(error instanceof FetchError)) throw error
  if (!error.status) {
    return new ApiProblem(0, 'Vetch cannot be reached. Check that it runs, then try again; what you typed is kept.', {})
  }
  const reply = error.data as { message?: string; data?: { fields?: Record<string, string> } } | undefined
  return new ApiProblem(error.status, reply?.message ?? 'The server gave no reason.', reply?.data?.fields ?? {})
}
