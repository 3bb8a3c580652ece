import { expect, test } from 'vitest'
import { keptByVersion } from './keptByVersion'

test('something is made once a version, of each key, and not of what is not there', async () => {
  const versions: Record<string, string> = { a: '1', b: '1' }
  const made: string[] = []
  const find = keptByVersion(
    async (key) => versions[key] ?? null,
    async (key) => {
      made.push(`${key}${versions[key]}`)
      return { of: `${key}${versions[key]}` }
    },
  )
  expect([await find('a'), await find('a'), await find('b'), await find('none')]).toEqual([
    { of: 'a1' },
    { of: 'a1' },
    { of: 'b1' },
    null,
  ])
  versions.a = '2'
  expect([await find('a'), await find('b'), await find('a')]).toEqual([{ of: 'a2' }, { of: 'b1' }, { of: 'a2' }])
  expect(made).toEqual(['a1', 'b1', 'a2'])
  delete versions.a
  expect(await find('a')).toBeNull()
})

test('a version that appears while the one before is made is made, too', async () => {
  let version = '1'
  const find = keptByVersion(
    async () => version,
    async () => {
      const seen = version
      version = '2'
      return { seen }
    },
  )
  expect([await find('a'), await find('a')]).toEqual([{ seen: '1' }, { seen: '2' }])
})
