const YEAR = 60 * 60 * 24 * 365

/**
 * The visitor's id as a cookie that the server sets: browsers keep it for as long as it says, while they forget what a
 * script has written after a week.
 */
export function visitorCookie(visitor: string, isEncrypted: boolean): string {
  return `vetch_visitor=${visitor}; Path=/; Max-Age=${YEAR}; SameSite=Lax${isEncrypted ? '; Secure' : ''}`
}
