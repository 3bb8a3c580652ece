import { anything, exactly, whole } from '../replies/pieces'
import { answers, type Operation } from './operation'
import { SITE } from './sites'

const VISITOR = `${SITE}/visitors/{visitor}`

export const VISITORS = {
  exportVisitor: {
    method: 'get',
    path: VISITOR,
    access: 'owner',
    summary: 'Everything that is kept of a visitor',
    reply: answers<Record<string, unknown>>(anything()),
  },
  eraseVisitor: {
    method: 'delete',
    path: VISITOR,
    access: 'owner',
    summary: 'Erase everything that is kept of a visitor, also from the sums',
    reply: answers<{ rows: number }>(exactly<{ rows: number }>({ rows: whole() })),
  },
} as const satisfies Record<string, Operation>
