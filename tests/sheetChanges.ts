import { itemsOf, type SheetChange, type SheetItem, type SheetList } from '../core/sheet/change'
import type { SheetContent } from '../core/sheet/content'

const FRESH: Record<SheetList['part'], SheetItem> = {
  pageRules: { id: '', match: 'exact', value: '/' },
  variants: { id: '', name: 'Drawn', weight: 1, edits: [] },
  metrics: {
    id: '',
    name: 'Drawn',
    kind: 'conversion',
    direction: 'up',
    role: 'secondary',
    limit: null,
    source: { type: 'event', name: 'order' },
    denominator: null,
  },
  factors: { id: '', name: 'Drawn', levels: [{ id: 'drawn-first', name: 'As it is', edits: [] }] },
  levels: { id: '', name: 'Drawn', edits: [] },
  combinationsOff: { id: '' },
  edits: { id: '', kind: 'text', selector: '#drawn', original: 'Old', value: 'New' },
}

/** A change that fits whatever the sheet holds by then, drawn by numbers. */
export function drawnChange(content: SheetContent, [what, which, where, value]: number[]): SheetChange {
  const lists: SheetList[] = [
    ...(['pageRules', 'variants', 'metrics', 'factors', 'combinationsOff'] as const).map((part) => ({ part })),
    ...content.factors.map(({ id }) => ({ part: 'levels' as const, factor: id })),
    ...(content.factors.length > 0 ? content.factors.flatMap(({ levels }) => levels) : content.variants).map(
      ({ id }) => ({ part: 'edits' as const, variant: id }),
    ),
  ]
  const list = lists[which! % lists.length]!
  const items = itemsOf(content, list)!
  const item = items[where! % Math.max(1, items.length)]
  const before = items[value! % (items.length + 1)]?.id ?? null
  switch (what! % 6) {
    case 0:
      return { do: 'add', list, item: { ...FRESH[list.part], id: `drawn-${value}` }, before }
    case 1:
      return { do: 'remove', list, item: item ?? { ...FRESH[list.part], id: 'nowhere' } }
    case 2:
      return { do: 'move', list, id: item?.id ?? 'nowhere', before }
    case 3:
      return { do: 'set', of: { part: 'plan' }, from: {}, to: { mean: value! + 1, leastWeeks: (value! % 50) + 1 } }
    case 4:
      return { do: 'replace', from: {}, to: { hypothesis: `Because ${value}.`, share: value! % 10_000 } }
    default:
      return { do: 'set', of: { ...list, id: item?.id ?? 'nowhere' }, from: {}, to: fieldOf(list, value!) }
  }
}
const fieldOf = ({ part }: SheetList, value: number) =>
  part === 'pageRules' || part === 'edits' ? { value: `/${value}` } : { name: `Name ${value}` }
