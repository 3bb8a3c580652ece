import { customType } from 'drizzle-orm/pg-core'

export const bytes = customType<{ data: Buffer }>({ dataType: () => 'bytea' })
