import { expect, test } from 'vitest'
import type { Edit } from '../edits/content'
import { forbidsInline, forbidsOwnTypes, policyFindings } from './policyFindings'

test.each([
  ["script-src 'self'", true, false],
  ["default-src 'self'", true, true],
  ["default-src 'self'; script-src 'unsafe-inline'; style-src 'unsafe-inline'", false, false],
  ["script-src 'unsafe-inline' 'nonce-abc'", true, false],
  ["script-src 'unsafe-inline' 'sha256-abc'; style-src 'unsafe-inline' 'sha256-abc'", true, true],
  ["script-src 'unsafe-inline' 'strict-dynamic'", true, false],
  ["Script-Src-Elem 'none'; script-src 'unsafe-inline'", true, false],
  ["style-src-attr 'none'", false, false],
  ["img-src *, style-src 'self'", false, true],
  ["script-src 'unsafe-inline'; script-src 'none'", false, false],
  ['script-src', true, false],
  ['', false, false],
])('what %s forbids of scripts and of styles', (policy, script, style) => {
  expect([forbidsInline(policy, 'script'), forbidsInline(policy, 'style')]).toEqual([script, style])
})

test('it is told of variants that bring one, by the pages that forbid it', () => {
  const script: Edit = { id: 'edit-0001', kind: 'script', value: 'go()' }
  const css: Edit = { id: 'edit-0002', kind: 'css', value: 'a {}' }
  const pages = [
    { path: '/', policies: [] },
    { path: '/book', policies: ["img-src 'self'", "script-src 'self'"] },
  ]
  expect(policyFindings([{ name: 'B', edits: [css] }], pages)).toEqual([])
  expect(policyFindings([{ name: 'B', edits: [{ ...script, isOff: true }] }], pages)).toEqual([])
  expect(policyFindings([{ name: 'B', edits: [script, css] }], pages)).toEqual([
    { section: 'what', isStop: false, text: expect.stringMatching(/^\/book forbids scripts .* those of “B” will do/) },
  ])
})

test.each([
  ["require-trusted-types-for 'script'", false],
  ["require-trusted-types-for 'script'; trusted-types vetch 'allow-duplicates'", false],
  ["require-trusted-types-for 'script'; trusted-types * 'allow-duplicates'", false],
  ["require-trusted-types-for 'script'; trusted-types vetch", true],
  ["require-trusted-types-for 'script'; trusted-types own 'allow-duplicates'", true],
  ["require-trusted-types-for 'script'; trusted-types 'none'", true],
  ["trusted-types 'none'", false],
])('whether %s lets the snippet make types: %s', (policy, forbids) => {
  expect(forbidsOwnTypes(policy)).toBe(forbids)
})

test('tells of HTML on pages that demand trusted types, and of nothing else there', () => {
  const pages = [{ path: '/', policies: ["require-trusted-types-for 'script'; trusted-types own"] }]
  const html: Edit = { id: 'edit-0003', kind: 'html', selector: 'h1', original: '', value: '<b>New</b>' }
  const text: Edit = { id: 'edit-0004', kind: 'text', selector: 'h1', original: '', value: 'New' }
  expect(policyFindings([{ name: 'B', edits: [text] }], pages)).toEqual([])
  expect(policyFindings([{ name: 'B', edits: [html] }], pages)).toMatchObject([
    { isStop: false, text: expect.stringMatching(/^\/ demands trusted types, so HTML and scripts of “B”/) },
  ])
})
