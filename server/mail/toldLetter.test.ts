import { expect, test } from 'vitest'
import { lessLines, toldLetter, type ToldThing } from './toldLetter'

const THING: ToldThing = {
  siteId: 3,
  siteName: 'Kittiwake',
  kind: 'alarm',
  title: 'Book button\r\nBcc: all@elsewhere.example',
  text: 'A variant has no visitors.',
  path: '/experiments/5',
  at: new Date('2026-07-05T10:30:00Z'),
  by: null,
  track: '',
}
const PLACE = { origin: 'https://vetch.example.test', timeZone: 'Europe/Dublin' }

test('one thing is told in its subject, on one line, by the clock of the person', () => {
  const { subject, text } = toldLetter([THING], PLACE)
  expect(subject).toBe('Alarm: Book button Bcc: all@elsewhere.example')
  expect(text).toContain(
    '2026-07-05 11:30\nA variant has no visitors.\nhttps://vetch.example.test/sites/3/experiments/5\n',
  )
})

test('several are told by site; of very many, how many more there are', () => {
  const others = { ...THING, siteId: 4, siteName: 'Kiosk', kind: 'verdict', track: 'B: +1.0 %' } as const
  const { subject, text } = toldLetter([THING, others], PLACE)
  expect(subject).toBe('2 things on Kittiwake, Kiosk: alarm, verdict reached')
  expect(text.indexOf('Kittiwake\n=========')).toBeLessThan(text.indexOf('Kiosk\n====='))
  expect(text).toContain('\n\nB: +1.0 %\n')
  const many = toldLetter(
    Array.from({ length: 25 }, () => THING),
    PLACE,
  )
  expect(many.text.match(/A variant has no visitors/g)).toHaveLength(20)
  expect(many.text).toContain('And 5 more:\nhttps://vetch.example.test/sites/3/news')
  expect(lessLines(PLACE.origin, '7.key')).toContain('https://vetch.example.test/less#7.key')
})
