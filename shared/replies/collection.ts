import type { CollectionView } from '../collection'
import type { PageRule } from '../../core/targeting/pageRule'
import { exactly, listOf, oneOf, text, whole, yesOrNo } from './pieces'

export const pageRuleReply = exactly<PageRule>({
  match: oneOf<PageRule['match']>('exact', 'begins', 'contains'),
  value: text(),
})

export const collectionReply = exactly<CollectionView>({
  behavior: exactly<CollectionView['behavior']>({ share: whole(), pages: listOf(pageRuleReply) }),
  asksConsent: yesOrNo(),
  retentionDays: whole(),
  lately: exactly<CollectionView['lately']>({ visitors: whole(), behaving: whole(), events: whole() }),
})
