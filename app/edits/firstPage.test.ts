import { expect, test } from 'vitest'
import { firstPageOf } from './firstPage'

const rule = (match: 'exact' | 'begins' | 'contains', value: string) => ({ id: value, match, value })
const visited = async () => ['/crossings/torrin', '/crossings/ennisay']
const nobody = async () => []

test('a page is opened that answers: one that is named, or that visitors see', async () => {
  expect(await firstPageOf({ pageRules: [rule('begins', '/crossings/'), rule('exact', '/book')] }, visited)).toBe(
    '/book',
  )
  expect(await firstPageOf({ pageRules: [rule('begins', '/crossings/')] }, visited)).toBe('/crossings/torrin')
  expect(await firstPageOf({ pageRules: [rule('begins', '/crossings/')] }, nobody)).toBe('/crossings/')
  expect(await firstPageOf({ pageRules: [rule('contains', 'x')] }, nobody)).toBe('/')
  expect(await firstPageOf({ pageRules: [] }, () => Promise.reject(new Error('away')))).toBe('/')
})
