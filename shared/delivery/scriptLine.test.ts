import { createHash } from 'node:crypto'
import { expect, test } from 'vitest'
import { scriptLine, WAIT_STYLE, WAIT_STYLE_HASH } from './scriptLine'

test('the script line is the same forever, and so is the hash that sites allow in their policies', () => {
  expect(`sha256-${createHash('sha256').update(WAIT_STYLE).digest('base64')}`).toBe(WAIT_STYLE_HASH)
  expect(WAIT_STYLE_HASH).toBe('sha256-lbKoAThDSYtFMS6QF0O2dJ491Vn/FxIOBmfPLsGcRGA=')
  expect(scriptLine('https://vetch.example', 'abc')).toMatch(
    /^<style>[^<]+<\/style><script async="" src="https:\/\/vetch\.example\/s\/abc\.js"><\/script>$/,
  )
})
