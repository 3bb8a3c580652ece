/** Steps of a journey that a variant may make more or less likely. */
export type Step = 'home to book' | 'crossing to book' | 'passes to hopper' | 'book to travelers' | 'party to payment'

/**
 * What the demo's experiments truly do to its visitors, by the experiment's salt: a factor on the probability
 * of a step for each variant. What the analysis finds can be checked against it. What is rolled out afterwards does
 * nothing: its effect has worn off, which a holdout shows.
 */
export const TRUE_EFFECTS: Readonly<Record<string, { step: Step; factors: readonly number[] }>> = {
  'kc-island-headline': { step: 'home to book', factors: [1, 1.5] },
  'kc-fares-first': { step: 'crossing to book', factors: [1, 1.06] },
  'kc-book-button': { step: 'crossing to book', factors: [1, 1.45, 1.02] },
  'kc-pass-wording': { step: 'passes to hopper', factors: [1, 1] },
  // The button does it; the heading does nothing, alone or beside it.
  'kc-pass-factors': { step: 'passes to hopper', factors: [1, 1.35, 1, 1.35] },
  'kc-next-step': { step: 'book to travelers', factors: [1, 1.06] },
  'kc-finder-button': { step: 'home to book', factors: [1, 1.1] },
  'kc-winter-fares': { step: 'book to travelers', factors: [1, 1.3, 0.95] },
  // Of those who are held back, and those who are served.
  'kc-pounds-note': { step: 'crossing to book', factors: [1, 1.25] },
  'kt-pay-button': { step: 'party to payment', factors: [1, 1.14] },
}

/** Share of a variant's visitors in one browser whose events get lost, as a variant that fails there would lose them. */
export const LOST_REPORTS: Readonly<Record<string, { browser: string; shares: readonly number[] }>> = {
  'kc-three-steps': { browser: 'safari', shares: [0, 0.55] },
}
