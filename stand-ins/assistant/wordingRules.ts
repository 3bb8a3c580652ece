import type { Manner } from '../../shared/wording/wording'

/** What is asked of a writing assistant. */
export interface WordingAsked {
  text: string
  manner: Manner
  element: string
  around: string
}

const MOST_IDEAS = 3
type Rule = readonly [pattern: RegExp, words: string]

const FILLERS: readonly Rule[] = [
  [/\b(really|very|simply|just|actually|currently|easily|quickly|please|absolutely|truly)\s+/gi, ''],
  [/\bin order to\b/gi, 'to'],
  [/\bas well as\b/gi, 'and'],
  [/\b(a|the) (wide |large |great )?(range|variety|selection) of\b/gi, 'many'],
  [/\bdue to the fact that\b/gi, 'because'],
  [/\bat this (point in )?time\b/gi, 'now'],
  [/\bon a (daily|regular) basis\b/gi, 'daily'],
  [/\ball (of )?the year round\b|\bthroughout the year\b/gi, 'all year'],
  [/\bas (often|much|many) as you (like|want|wish)\b/gi, 'without limit'],
  [/\b(we|you) are able to\b/gi, '$1 can'],
]
const PLAIN: readonly Rule[] = [
  [/\bpurchase\b/gi, 'buy'],
  [/\butili[sz]e\b/gi, 'use'],
  [/\bcommence\b/gi, 'begin'],
  [/\bterminate\b/gi, 'end'],
  [/\bapproximately\b/gi, 'about'],
  [/\bprior to\b/gi, 'before'],
  [/\bsubsequent(ly)? to\b/gi, 'after'],
  [/\bassistance\b/gi, 'help'],
  [/\bassist\b/gi, 'help'],
  [/\brequire(s|d)?\b/gi, 'need$1'],
  [/\bobtain\b/gi, 'get'],
  [/\badditional\b/gi, 'more'],
  [/\bregarding\b/gi, 'about'],
  [/\bvia\b/gi, 'by'],
  [/\bin the event (that|of)\b/gi, 'if'],
  [/\bsubmit\b/gi, 'send'],
  [/\bregister\b/gi, 'sign up'],
  [/\bproceed\b/gi, 'go on'],
  [/\bcomplete (the|your) (form|purchase|booking|order)\b/gi, 'finish $1 $2'],
  [/\bvessel\b/gi, 'boat'],
  [/\bpassengers\b/gi, 'people'],
  [/\bper annum\b/gi, 'a year'],
  [/\bcomplimentary\b/gi, 'free'],
  [/\bfree of charge\b/gi, 'free'],
  [/\bdepart(s)?\b/gi, 'leave$1'],
  [/\bsailings\b/gi, 'boats'],
]
const WARM: readonly Rule[] = [
  [/\b(do|does|is|are|can|will|would|should|could) not\b/gi, '$1n’t'],
  [/\bcann’t\b/gi, 'can’t'],
  [/\bwilln’t\b/gi, 'won’t'],
  [/\b(we|you|they) are\b/gi, '$1’re'],
  [/\b(we|you|they) will\b/gi, '$1’ll'],
  [/\bit is\b/gi, 'it’s'],
  [/\b(customers|visitors|users|guests|travelers|passengers)\b/gi, 'you'],
]
/** Verbs of what a person does: what follows may be theirs. */
const OWN: readonly Rule[] = [
  [
    /^(find|book|choose|see|get|start|plan|buy|change|check|keep|read|open|join|begin)(\s+)(an?|the|this)\s+/i,
    '$1$2your ',
  ],
  [/^(book|buy|order|subscribe)( now)?$/i, '$1 yours'],
  [/^sign up$/i, 'Join us'],
  [/^(submit|send|go|continue|next|ok)$/i, 'Yes, go on'],
]
/** Words that say too little, with the question that a fact would answer. */
const VAGUE: readonly Rule[] = [
  [/\b(soon|shortly)\b/gi, 'within [how long]'],
  [/\b(fast|quick|quickly|rapid)\b/gi, 'in [how long]'],
  [/\b(cheap|affordable|low prices?|inexpensive)\b/gi, 'from [price]'],
  [/\b(many|numerous|several|lots of)\b/gi, '[how many]'],
  [/\b(often|regularly|frequently)\b/gi, '[how often]'],
  [/\ball year( round)?\b/gi, 'on [how many] days a year'],
  [/\b(early|late)\b/gi, 'from [time]'],
  [/\bsave(?! [\d€$£[])\b/gi, 'save [how much]'],
  [/\b(best|great|unique|amazing|beautiful)\s+/gi, ''],
]
const FACT =
  /(?:[€$£]\s?\d+(?:[.,]\d+)*|\d+(?:[.,]\d+)*\s?(?:euro|minutes?|hours?|days?|weeks?|%|islands?|crossings?))/gi

/**
 * Other wordings by a short list of rules: the same for the same question, and no writer. It stands in for a writing
 * assistant until one is set.
 *
 * @returns at most three, none of them what was asked about
 * @example wordingIdeas({ text: 'Find a crossing', manner: 'warmer', element: 'button', around: '' })
 * // ['Find your crossing']
 */
export function wordingIdeas(asked: WordingAsked): string[] {
  const text = asked.text.replace(/\s+/g, ' ').trim()
  const ideas = BY_MANNER[asked.manner]({ ...asked, text }).map(tidy)
  return [...new Set(ideas)].filter((idea) => idea && idea.toLowerCase() !== text.toLowerCase()).slice(0, MOST_IDEAS)
}

const BY_MANNER: Record<Manner, (asked: WordingAsked) => string[]> = {
  shorter({ text }) {
    const lean = rewritten(text, FILLERS)
    const [sentence] = lean.split(/(?<=[.!?])\s/)
    const [clause] = sentence!.split(/\s[–—-]\s|[,;:]\s/)
    const isWhole = (clause ?? '').split(' ').length >= 2
    return [...(isWhole ? [clause!] : []), sentence!, lean]
  },
  plainer({ text }) {
    const plain = rewritten(text, PLAIN)
    return [plain, rewritten(plain, FILLERS)]
  },
  warmer({ text }) {
    const warm = rewritten(rewritten(text, WARM), OWN)
    const rest = warm.charAt(0).toLowerCase() + warm.slice(1)
    return [warm, /^(find|book|choose|plan|see)\b/i.test(warm) ? `Let’s ${rest}` : '']
  },
  'more concrete'({ text, around }) {
    const asking = rewritten(text, VAGUE)
    const facts = [...new Set(around.match(FACT) ?? [])].filter((fact) => !text.includes(fact))
    const end = /[.!?]$/.exec(text)?.[0] ?? ''
    const bare = end ? text.slice(0, -1) : text
    return [asking, ...facts.slice(0, 2).map((fact) => `${bare}: ${fact}${end}`)]
  },
}

/** A text with rules applied; a capital where there was one. */
function rewritten(text: string, rules: readonly Rule[]): string {
  return rules.reduce(
    (words, [pattern, replacement]) =>
      words.replace(pattern, (match, ...groups: unknown[]) => {
        const said = replacement.replace(/\$(\d)/g, (_, group: string) => String(groups[Number(group) - 1] ?? ''))
        return /^[A-Z]/.test(match) ? said.charAt(0).toUpperCase() + said.slice(1) : said
      }),
    text,
  )
}

function tidy(text: string): string {
  const line = text
    .replace(/\s+([.,!?;:])/g, '$1')
    .replace(/\s+/g, ' ')
    .trim()
    .replace(/[,;:]$/, '')
  return line.charAt(0).toUpperCase() + line.slice(1)
}
