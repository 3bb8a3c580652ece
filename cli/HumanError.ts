/** A failure whose message already says, to the person at the terminal, what to do. */
export class HumanError extends Error {
  constructor(
    message: string,
    /** 1 when something went wrong, 2 when what was asked for makes no sense. */
    readonly exitCode: 1 | 2 = 1,
  ) {
    super(message)
  }
}
