import { FetchError } from 'ofetch'

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

/** Calls Vetch's API. Failures come as `ApiProblem`; whoever is no longer signed in is led to the sign-in. */
export function useApi() {
  const router = useRouter()

  return async function call<Reply>(
    method: 'GET' | 'POST' | 'PATCH' | 'DELETE',
    path: string,
    body?: object,
  ): Promise<Reply> {
    try {
      return (await $fetch(path, { method, body: body as Record<string, unknown> | undefined, retry: 0 })) as Reply
    } catch (error) {
      const problem = asProblem(error)
      if (problem.status === 401 && !path.startsWith('/api/account/')) {
        useAccountStore().forget()
        await router.push({ path: '/sign-in', query: { next: router.currentRoute.value.fullPath } })
      }
      throw problem
    }
  }
}

function asProblem(error: unknown): ApiProblem {
  if (!(error instanceof FetchError)) throw error
  if (!error.status)
    return new ApiProblem(0, 'Vetch cannot be reached. Check that it runs, then try again; what you typed is kept.', {})
  const reply = error.data as { message?: string; data?: { fields?: Record<string, string> } } | undefined
  return new ApiProblem(error.status, reply?.message ?? 'The server gave no reason.', reply?.data?.fields ?? {})
}
