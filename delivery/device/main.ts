import type { ToldDevice } from '../../shared/delivery/toldDevice'

declare const __VETCH_DEVICE__: ToldDevice

/** Runs before everything else in a copy of a page: its scripts ask the browser, and get the answers of a device. */
const { userAgent, width, height, isTouch, language } = __VETCH_DEVICE__
const POINTER = /\((?:any-)?(pointer|hover)\s*:\s*(\w+)\)/g

function answer(of: object, name: string, value: unknown): void {
  Object.defineProperty(of, name, { configurable: true, get: () => value })
}

answer(Navigator.prototype, 'userAgent', userAgent)
answer(Navigator.prototype, 'appVersion', userAgent.replace(/^Mozilla\//, ''))
answer(Navigator.prototype, 'userAgentData', undefined)
answer(Navigator.prototype, 'platform', isTouch ? 'Linux armv8l' : 'Linux x86_64')
answer(Navigator.prototype, 'maxTouchPoints', isTouch ? 5 : 0)
answer(Navigator.prototype, 'language', language)
answer(Navigator.prototype, 'languages', [language])
for (const name of ['width', 'availWidth']) answer(Screen.prototype, name, width)
for (const name of ['height', 'availHeight']) answer(Screen.prototype, name, height)
if (isTouch) Object.assign(window, { ontouchstart: null })
else Reflect.deleteProperty(window, 'ontouchstart')

const ask = window.matchMedia.bind(window)
/** What points, and whether it hovers, is of the device; all else is of the window, which has its width. */
window.matchMedia = (query) =>
  ask(
    query.replace(POINTER, (_, feature: string, value: string) => {
      const own = feature === 'pointer' ? (isTouch ? 'coarse' : 'fine') : isTouch ? 'none' : 'hover'
      return value === own ? '(min-width: 0px)' : '(max-width: 0px)'
    }),
  )
