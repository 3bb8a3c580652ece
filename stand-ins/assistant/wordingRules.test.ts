import { describe, expect, test } from 'vitest'
import type { Manner } from '../../shared/wording/wording'
import { wordingIdeas } from './wordingRules'

const ideas = (text: string, manner: Manner, around = '') => wordingIdeas({ text, manner, element: 'button', around })

test.each<[string, Manner, string[]]>([
  ['Find a crossing', 'warmer', ['Find your crossing', 'Let’s find your crossing']],
  ['We are open and you will not wait', 'warmer', ['We’re open and you won’t wait']],
  ['Purchase additional tickets prior to boarding', 'plainer', ['Buy more tickets before boarding']],
  ['Car and foot ferries from Harrow Quay, all year round.', 'shorter', ['Car and foot ferries from Harrow Quay']],
  ['Three islands, one small harbor', 'shorter', ['Three islands']],
  ['Boats leave often', 'more concrete', ['Boats leave [how often]']],
])('%s, %s', (text, manner, expected) => expect(ideas(text, manner)).toEqual(expected))

test('facts of the page make a text more concrete', () => {
  expect(ideas('See the pass.', 'more concrete', 'The Island Hopper € 89.00, all three islands in 50 minutes')).toEqual(
    ['See the pass: € 89.00.', 'See the pass: 50 minutes.'],
  )
})

describe('whatever is asked', () => {
  test('the answer is the same twice, never the question, and at most three', () => {
    for (const manner of ['shorter', 'plainer', 'warmer', 'more concrete'] as const)
      for (const text of ['', 'Go', '!!!', 'Book this crossing — it is really very easy, quick and cheap. Really.']) {
        const once = ideas(text, manner, '12 euro 5 days 7 weeks')
        expect(ideas(text, manner, '12 euro 5 days 7 weeks')).toEqual(once)
        expect(once.length).toBeLessThanOrEqual(3)
        expect(once).not.toContain(text)
      }
  })
})
