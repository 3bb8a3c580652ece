import { PLACES_MARK, type ElementPlace } from '../../shared/pictures/pagePicture'
import { elementPath } from '../snippet/elementPath'
import { native, nativeDocument } from '../native'

const MOST_ELEMENTS = 4000

/** Where every element of the page stands, by the path that clicks on it keep. */
function listPlaces(): ElementPlace[] {
  return [...native(nativeDocument.body).querySelectorAll('*')]
    .slice(0, MOST_ELEMENTS)
    .flatMap((element): ElementPlace[] => {
      const { x, y, width, height } = native(element).getBoundingClientRect()
      if (width === 0 && height === 0) return []
      return [
        [elementPath(element), Math.round(x + scrollX), Math.round(y + scrollY), Math.round(width), Math.round(height)],
      ]
    })
}
Reflect.set(window, Symbol.for(PLACES_MARK), listPlaces)
