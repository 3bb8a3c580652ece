import type { Device } from './visitor'

/** Where elements of the demo site stand, and how tall its pages are, in CSS pixels of each device's screen. */
export type Box = readonly [x: number, y: number, width: number, height: number]
export type ByDevice<Value> = Readonly<Record<Device, Value>>

export const BOXES = {
  find: { phone: [35, 488, 146, 46], desktop: [764, 222, 146, 46], tablet: [508, 222, 146, 46] },
  ennisay: { phone: [29, 671, 56, 20], desktop: [285, 405, 56, 20], tablet: [29, 405, 56, 20] },
  torrin: { phone: [29, 708, 47, 20], desktop: [285, 442, 47, 20], tablet: [29, 442, 47, 20] },
  'little-skell': { phone: [29, 745, 80, 20], desktop: [285, 479, 80, 20], tablet: [29, 479, 80, 20] },
  promotion: { phone: [38, 944, 197, 46], desktop: [294, 654, 197, 46], tablet: [38, 654, 197, 46] },
  headline: { phone: [19, 117, 352, 59], desktop: [275, 85, 890, 39], tablet: [19, 85, 782, 39] },
  bookCrossing: { phone: [19, 1347, 169, 46], desktop: [275, 1722, 169, 46], tablet: [19, 1642, 169, 46] },
  scene: { phone: [19, 268, 352, 114], desktop: [275, 218, 890, 289], tablet: [19, 218, 782, 254] },
  chooseHopper: { phone: [36, 395, 156, 46], desktop: [292, 373, 156, 46], tablet: [36, 373, 156, 46] },
  buyPass: { phone: [19, 268, 127, 46], desktop: [275, 218, 127, 46], tablet: [19, 218, 127, 46] },
  toTravelers: { phone: [19, 629, 352, 46], desktop: [275, 607, 480, 46], tablet: [19, 607, 480, 46] },
  toPay: { phone: [19, 308, 352, 46], desktop: [275, 286, 480, 46], tablet: [19, 286, 480, 46] },
  pay: { phone: [19, 300, 352, 46], desktop: [275, 278, 480, 46], tablet: [19, 278, 480, 46] },
} as const satisfies Record<string, ByDevice<Box>>

const HEIGHTS: Readonly<Record<string, ByDevice<number>>> = {
  '/': { phone: 1425, desktop: 998, tablet: 1180 },
  '/crossings': { phone: 1541, desktop: 1893, tablet: 1813 },
  '/timetable': { phone: 933, desktop: 900, tablet: 1180 },
  '/timetable-by-day': { phone: 908, desktop: 900, tablet: 1180 },
}

/** How tall a page is; most are no taller than the window. */
export function heightOf(path: string, device: Device, windowHeight: number): number {
  const page = path.startsWith('/crossings/') ? '/crossings' : path
  return HEIGHTS[page]?.[device] ?? windowHeight
}
