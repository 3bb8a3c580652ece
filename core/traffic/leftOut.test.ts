import { expect, test } from 'vitest'
import { leftOutReason, MOST_EVENTS_A_VISITOR, type VisitorTraffic } from './leftOut'
import { DAY } from '../time/units'

const person: VisitorTraffic = { isRobot: false, views: 12, events: 60, span: 600_000 }

test.each<[string, Partial<VisitorTraffic>, ReturnType<typeof leftOutReason>]>([
  ['a person', {}, null],
  ['a robot by its own word', { isRobot: true }, 'robot'],
  ['sixty views in half a minute', { views: 60, span: 30_000 }, 'pace'],
  ['a few quick views', { views: 20, span: 2000 }, null],
  ['many views over a day', { views: 500, events: 2000, span: DAY }, null],
  ['more events than anybody makes', { views: 500, events: MOST_EVENTS_A_VISITOR + 1, span: DAY }, 'absurd'],
])('%s', (_, changes, reason) => expect(leftOutReason({ ...person, ...changes })).toBe(reason))
