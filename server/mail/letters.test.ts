import { expect, test } from 'vitest'
import { outboxPage } from '../../stand-ins/outbox/outboxPage'
import { invitationLetter, resetLetter } from './letters'

const LINK = 'http://127.0.0.1:4100/join#secret'

test('names of others make neither a second line of the subject nor markup of the outbox', () => {
  const letter = invitationLetter('Team\r\nBcc: all@elsewhere.example', '<b>Mara</b>', 'viewer', LINK)
  expect(letter.subject).toBe('Join Team Bcc: all@elsewhere.example on Vetch')
  const page = outboxPage([{ ...letter, to: '"><script>alert(1)</script>', at: '2026-03-01T12:00:00Z' }])
  expect(page).not.toMatch(/<script|<b>/)
  expect(page).toContain(`<a href="${LINK}">${LINK}</a>`)
})

test('a letter says for how long its link works, and what to do with one that nobody asked for', () => {
  expect(invitationLetter('Team', null, 'editor', LINK).text).toMatch(/as editor[\s\S]*seven days, once[\s\S]*leave it/)
  expect(resetLetter(LINK).text).toMatch(/one hour, once[\s\S]*leave it/)
})
