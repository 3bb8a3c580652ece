import { expect, test } from 'vitest'
import { sourceHash } from '../../server/services/sites/sourceHash'
import { GUARD, scriptLine, waitStyle } from './scriptLine'

test('what stands in the script line is the same forever, and so are the hashes that sites allow in their policies', () => {
  expect(sourceHash(waitStyle())).toBe('sha256-lbKoAThDSYtFMS6QF0O2dJ491Vn/FxIOBmfPLsGcRGA=')
  expect(sourceHash(GUARD)).toBe('sha256-1ZEJIt3zZlWy6dRqS5vxRtwo28nyKVMVKUYAViFexxE=')
  expect(scriptLine('https://vetch.example', 'abc')).toMatch(
    /^<style>[^<]+<\/style><script data-vetch="">[^<]+<\/script><script async="" fetchpriority="high" src="https:\/\/vetch\.example\/s\/abc\.js"><\/script>$/,
  )
})

test('a site may wait less long', () => {
  expect(scriptLine('https://vetch.example', 'abc', 400)).toContain('animation:vetch 0s 0.4s forwards!important')
})
