import { domToBlob } from 'modern-screenshot'

/** Wider and longer views are cut: a picture is a proof, not an archive. */
const MOST_WIDTH = 1600
const MOST_HEIGHT = 2400

/** A picture of what is seen, or null where the browser cannot make one. */
export async function pictureOfView(): Promise<Blob | null> {
  const view = document.querySelector<HTMLElement>('main')
  if (!view) return null
  try {
    return await domToBlob(view, {
      type: 'image/jpeg',
      quality: 0.85,
      scale: 1,
      width: Math.min(MOST_WIDTH, view.scrollWidth),
      height: Math.min(MOST_HEIGHT, view.scrollHeight),
      backgroundColor: getComputedStyle(document.documentElement).backgroundColor,
      font: false,
    })
  } catch {
    return null
  }
}
