import { domToBlob } from 'modern-screenshot'

/** Wider and longer views are cut: a picture is a proof, not an archive. */
const MOST_WIDTH = 1600
const MOST_HEIGHT = 2400
/** A view that is still being drawn is waited for, but not for ever. */
const MOST_WAITING = 10_000

/** A picture of what is seen, or null where the browser cannot make one. */
export async function pictureOfView(): Promise<Blob | null> {
  const view = document.querySelector<HTMLElement>('main')
  if (!view) return null
  try {
    fonts ??= loadedFonts()
    await drawn(view)
    return await domToBlob(view, {
      type: 'image/jpeg',
      quality: 0.85,
      scale: 1,
      width: Math.min(MOST_WIDTH, view.scrollWidth),
      height: Math.min(MOST_HEIGHT, view.scrollHeight),
      backgroundColor: getComputedStyle(document.documentElement).backgroundColor,
      font: { cssText: await fonts },
    })
  } catch {
    return null
  }
}

/** Resolves when nothing in a view is loading or being drawn any more. */
async function drawn(view: HTMLElement): Promise<void> {
  const deadline = performance.now() + MOST_WAITING
  const isDrawn = () =>
    !view.querySelector('[aria-busy="true"], [data-drawn="no"]') &&
    [...view.querySelectorAll('img')].every(({ complete }) => complete)
  while (!isDrawn() && performance.now() < deadline) await new Promise((resolve) => setTimeout(resolve, 50))
}

let fonts: Promise<string> | undefined

/** Rules for the fonts that the page has loaded, with the fonts in them: a picture may fetch nothing. */
async function loadedFonts(): Promise<string> {
  const loaded = [...document.fonts].filter(({ status }) => status === 'loaded')
  const rules = [...document.styleSheets]
    .flatMap((sheet) => [...sheet.cssRules])
    .filter((rule): rule is CSSFontFaceRule => rule instanceof CSSFontFaceRule)
    .filter(({ style }) =>
      loaded.some(({ family, unicodeRange }) => {
        return (
          style.getPropertyValue('font-family').includes(family.replaceAll('"', '')) && isSameRange(style, unicodeRange)
        )
      }),
    )
  return (await Promise.all(rules.map(inlined))).join('\n')
}

const isSameRange = (style: CSSStyleDeclaration, range: string) =>
  style.getPropertyValue('unicode-range').replace(/\s/g, '').toLowerCase() === range.replace(/\s/g, '').toLowerCase()

async function inlined({ cssText, parentStyleSheet }: CSSFontFaceRule): Promise<string> {
  const [, address] = /url\("?([^")]+)"?\)/.exec(cssText) ?? []
  if (!address || address.startsWith('data:')) return cssText
  const reply = await fetch(new URL(address, parentStyleSheet?.href ?? location.href))
  const bytes = new Uint8Array(await reply.arrayBuffer())
  const text = Array.from(bytes, (byte) => String.fromCharCode(byte)).join('')
  return cssText.replace(/url\("?[^")]+"?\)/, `url("data:font/woff2;base64,${btoa(text)}")`)
}
