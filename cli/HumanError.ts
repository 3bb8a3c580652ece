/** A failure whose message already says, to the person at the terminal, what to do. */
export class HumanError extends Error {}
