const ENTITIES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' }

/** Text for a page: nothing of it is markup. */
export const escaped = (text: string) => text.replace(/[&<>"']/g, (sign) => ENTITIES[sign]!)
