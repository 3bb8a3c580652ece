import type { DecisionRule, SelfPause } from '~~/core/verdict/verdict'

/** The rules of plans, in the order in which they are offered. */
export const RULE_CHOICES: readonly { value: DecisionRule; label: string; hint: string }[] = [
  { value: 'spending', label: 'planned end', hint: 'One look a day, until the planned end.' },
  { value: 'sequential', label: 'sequential', hint: 'Look whenever you like, as long as it takes.' },
  { value: 'fixed', label: 'fixed', hint: 'One look at the end.' },
  { value: 'low-risk', label: 'low risk', hint: 'Also ships when little can be lost.' },
]

export const SELF_PAUSE_CHOICES: readonly { value: SelfPause; label: string }[] = [
  { value: 'target', label: 'a redirect that fails' },
  { value: 'harm', label: 'that, or a harmed guardrail' },
  { value: 'split', label: 'that, or a broken split' },
  { value: 'both', label: 'any of the three' },
]

/** What a plan pauses itself for, as part of a sentence. */
export const SELF_PAUSE_WORDS: Record<SelfPause, string> = {
  target: 'a redirect that fails',
  harm: 'a harmed guardrail',
  split: 'a broken split',
  both: 'a harmed guardrail or a broken split',
}

export function ruleLabel(rule: DecisionRule): string {
  return RULE_CHOICES.find(({ value }) => value === rule)!.label
}
