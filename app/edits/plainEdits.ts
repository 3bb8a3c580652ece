import type { ServedThing } from '~~/shared/delivery/preview'
import type { Edit } from '~~/core/edits/content'
import { orderEdits } from '~~/core/edits/edit'

/** Edits in the order of being applied, as they can be sent to a page. */
export function plainEdits(edits: readonly Edit[]): Edit[] {
  return JSON.parse(JSON.stringify(orderEdits(edits))) as Edit[]
}

/** The same of what is served anyway, which is in its order already. */
export function plainThings(things: readonly ServedThing[] | undefined): ServedThing[] {
  return JSON.parse(JSON.stringify(things ?? [])) as ServedThing[]
}
