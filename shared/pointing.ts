import type { Edit } from '../core/edits/edit'

/**
 * Messages between Vetch and a page that is open for pointing. Both sides check the origin of every message;
 * the page's are tagged with the token that it was opened with.
 */
export interface PointedElement {
  selector: string
  /** Tag in lower case. */
  tag: string
  text: string
  /** Whether the element holds other elements, which a new text would replace. */
  hasElements: boolean
  /** Where it is drawn, in the frame's pixels. */
  box: Box
}

/** In CSS pixels; taller pages are not drawn over. */
const LARGEST_PAGE = 60_000

export interface Box {
  x: number
  y: number
  width: number
  height: number
}

export type FromPage =
  | { vetch: 'ready'; token: string; address: string; title: string }
  | { vetch: 'pointed'; token: string; element: PointedElement }
  | { vetch: 'walked'; token: string; element: PointedElement }
  | { vetch: 'applied'; token: string; missing: string[] }
  | { vetch: 'escape'; token: string }
  | { vetch: 'located'; token: string; boxes: (Box | null)[]; page: { width: number; height: number } }

export type ToPage =
  | { vetch: 'edits'; edits: Edit[] }
  | { vetch: 'select'; selector: string | null }
  /** Asks where elements stand, by the paths that clicks keep; told again whenever the page changes. */
  | { vetch: 'locate'; paths: string[] }

/** What a message holds, or null for one that is not part of this protocol. */
export function readFromPage(data: unknown, token: string): FromPage | null {
  if (!data || typeof data !== 'object' || !('vetch' in data) || !('token' in data) || data.token !== token) return null
  const message = data as FromPage
  return message.vetch !== 'located' || isLocation(message) ? message : null
}

/** A page may claim anything; what is drawn by it must be of a size that can be drawn. */
function isLocation({ boxes, page }: { boxes: unknown; page: unknown }): boolean {
  return (
    Array.isArray(boxes) &&
    boxes.every((box) => box === null || isBox(box)) &&
    isBox({ x: 0, y: 0, ...(page as object) })
  )
}

function isBox(box: unknown): boolean {
  const { x, y, width, height } = (box ?? {}) as Partial<Box>
  return [x, y, width, height].every((each) => Number.isFinite(each) && Math.abs(each!) <= LARGEST_PAGE)
}
