import { expect, test } from 'vitest'
import { isOwnPath } from './ownPath'

test.each<[string | undefined, boolean]>([
  ['/', true],
  ['/crossings/torrin?day=1#fares', true],
  ['/a//b', true],
  ['/über-uns', true],
  ['//evil.example', false],
  ['/\\evil.example', false],
  ['/\t/evil.example', false],
  ['\\\\evil.example', false],
  ['https://evil.example', false],
  ['evil.example', false],
  ['', false],
  [undefined, false],
])('%s', (path, isOwn) => expect(isOwnPath(path)).toBe(isOwn))
