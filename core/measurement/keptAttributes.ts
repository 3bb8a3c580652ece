/** Attributes that are kept with a clicked element. Never a value that somebody typed. */
export const KEPT_ATTRIBUTES = ['name', 'type', 'role', 'href', 'for', 'data-testid'] as const
