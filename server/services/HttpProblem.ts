/** A refusal that the person in front of the screen should read. */
export class HttpProblem extends Error {
  constructor(
    readonly status: 400 | 401 | 403 | 404 | 409 | 410 | 413 | 422 | 500 | 503 | 429,
    message: string,
    /** Messages by field of the input, where fields are to blame. */
    readonly fields: Record<string, string> = {},
  ) {
    super(message)
  }
}
