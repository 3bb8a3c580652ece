/** A pattern of LIKE that finds what contains a text, whatever signs it has. */
export function containing(text: string): string {
  return `%${text.replace(/[\\%_]/g, '\\$&')}%`
}
