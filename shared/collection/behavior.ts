import {
  BANDS,
  LONGEST_ANSWER,
  MOST_FIELDS,
  type Behavior,
  type BehaviorType,
  type SurveyType,
} from '../../core/evidence/behavior'
import { exactly, listOf, orNull, text, whole, yesOrNo, type Guard } from '../intake/guards'
import { DAY } from '../../core/time/units'

/** What of behavior and answers is taken: everything that browsers tell is checked, type by type. */
const LONGEST_NAME = 60
const LONGEST_TIME = DAY
const TALLEST = 10_000_000
/** Choices that one answer names. */
const MOST_CHOICES = 12

const ms = whole(0, LONGEST_TIME)
const pixels = whole(0, TALLEST)
const name = text(LONGEST_NAME, 1)
const survey = whole(1, 2_147_483_647)
const edits = listOf(text(40, 1), 100)

const GUARDS: Record<BehaviorType | SurveyType | 'drift', Guard<Behavior> | null> = {
  rage: exactly({ clicks: whole(2, 1000) }),
  dead: null,
  reading: exactly({
    seen: ms,
    depth: pixels,
    height: pixels,
    bands: listOf(ms, BANDS, BANDS),
  }),
  form: exactly({
    fields: listOf(exactly({ name, label: text(LONGEST_NAME), kind: text(20, 1) }), MOST_FIELDS),
  }),
  field: exactly({
    form: name,
    time: ms,
    hesitation: orNull(ms),
    isBlank: yesOrNo,
    isRefill: yesOrNo,
  }),
  drift: exactly({
    looked: edits,
    lost: edits,
    byClues: edits,
  }),
  asked: exactly({ survey }),
  answer: exactly({
    survey,
    question: text(20, 1),
    choices: listOf(text(20, 1), MOST_CHOICES),
    value: orNull(whole(0, 10)),
    text: orNull(text(LONGEST_ANSWER)),
  }),
}

/** Whether an event of a type may have these properties; those that are no behavior have none. */
export function hasPropertiesOf(type: string, properties: unknown): boolean {
  const guard = Object.hasOwn(GUARDS, type) ? GUARDS[type as keyof typeof GUARDS] : null
  return guard ? guard.fits(properties) : properties === undefined
}
