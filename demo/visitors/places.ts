import type { Device } from './visitor'

/** Where elements of the demo site stand, and how tall its pages are, in CSS pixels of each device's screen. */
export type Box = readonly [x: number, y: number, width: number, height: number]
export type ByDevice<Value> = Readonly<Record<Device, Value>>

export const BOXES = {
  find: { phone: [190, 486, 163, 46], desktop: [836, 222, 163, 46], tablet: [580, 222, 163, 46] },
  ennisay: { phone: [29, 669, 64, 19], desktop: [285, 405, 64, 19], tablet: [29, 405, 64, 19] },
  torrin: { phone: [29, 706, 50, 19], desktop: [285, 442, 50, 19], tablet: [29, 442, 50, 19] },
  'little-skell': { phone: [29, 743, 89, 19], desktop: [285, 479, 89, 19], tablet: [29, 479, 89, 19] },
  promotion: { phone: [38, 967, 221, 46], desktop: [294, 654, 221, 46], tablet: [38, 654, 221, 46] },
  headline: { phone: [19, 117, 352, 59], desktop: [275, 85, 890, 39], tablet: [19, 85, 782, 39] },
  bookCrossing: { phone: [19, 1397, 188, 46], desktop: [275, 1747, 188, 46], tablet: [19, 1642, 188, 46] },
  scene: { phone: [19, 268, 352, 114], desktop: [275, 218, 890, 289], tablet: [19, 218, 782, 254] },
  chooseHopper: { phone: [36, 395, 174, 46], desktop: [292, 373, 174, 46], tablet: [36, 373, 174, 46] },
  buyPass: { phone: [19, 297, 142, 46], desktop: [275, 218, 142, 46], tablet: [19, 218, 142, 46] },
  toTravelers: { phone: [19, 648, 352, 46], desktop: [275, 603, 480, 46], tablet: [19, 603, 480, 46] },
  toPay: { phone: [19, 308, 352, 46], desktop: [275, 286, 480, 46], tablet: [19, 286, 480, 46] },
  pay: { phone: [19, 300, 352, 46], desktop: [275, 278, 480, 46], tablet: [19, 278, 480, 46] },
} as const satisfies Record<string, ByDevice<Box>>

const HEIGHTS: Readonly<Record<string, ByDevice<number>>> = {
  '/': { phone: 1448, desktop: 998, tablet: 1180 },
  '/crossings': { phone: 1590, desktop: 1918, tablet: 1813 },
  '/timetable': { phone: 982, desktop: 900, tablet: 1180 },
  '/timetable-by-day': { phone: 908, desktop: 900, tablet: 1180 },
}

/** How tall a page is; most are no taller than the window. */
export function heightOf(path: string, device: Device, windowHeight: number): number {
  const page = path.startsWith('/crossings/') ? '/crossings' : path
  return HEIGHTS[page]?.[device] ?? windowHeight
}
