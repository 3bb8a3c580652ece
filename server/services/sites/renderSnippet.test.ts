import { expect, test } from 'vitest'
import type { DeliveredEdit } from '../../../core/edits/content'
import type { PageRule } from '../../../core/targeting/pageRule'
import { SITE_FILE_FORMAT, type SiteFile } from '../../../shared/delivery/siteFile'
import { snippetFor } from './renderSnippet'

const text: DeliveredEdit = { kind: 'text', selector: 'h1', value: 'New' } as DeliveredEdit
const hide: DeliveredEdit = { kind: 'hide', selector: 'h1', keepsSpace: false } as DeliveredEdit
const plain: PageRule = { match: 'exact', value: '/' }
const other: PageRule = { match: 'ends', value: '/fares' }
const siteFile = (pages: PageRule[], edits: DeliveredEdit[], amounts: SiteFile['amounts'] = []): SiteFile => ({
  format: SITE_FILE_FORMAT,
  version: 1,
  key: 'k',
  asksConsent: false,
  currency: 'EUR',
  parameters: [],
  amounts,
  entries: [
    {
      kind: 'experiment',
      id: 1,
      salt: 's',
      share: 1,
      audience: null,
      group: null,
      weights: [1, 1],

      pages,
      edits: [[], edits],
    },
  ],
})

test('a site is served the smallest snippet that does all that it asks for', () => {
  expect(snippetFor(siteFile([plain], [text]))).toBe('snippet.js')
  expect(snippetFor(siteFile([plain], [hide]))).toBe('snippetWithEveryKind.js')
  expect(snippetFor(siteFile([plain, other], [text]))).toBe('snippetWithRules.js')
  expect(snippetFor(siteFile([other], [hide]))).toBe('snippetWithRulesAndEveryKind.js')
  expect(snippetFor(siteFile([plain], [{ ...text, page: other }]))).toBe('snippetWithRulesAndEveryKind.js')
  const forPhones = siteFile([plain], [text])
  forPhones.entries[0]!.audience = { join: 'all', of: [] }
  expect(snippetFor(forPhones)).toBe('snippetWithRules.js')
  const amount = { page: other, selector: '#total', reference: null }
  expect(snippetFor(siteFile([plain], [text], [amount]))).toBe('snippetWithRules.js')
})
