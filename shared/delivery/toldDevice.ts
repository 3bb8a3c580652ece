import { DEVICES, languageSchema, type Device } from '../pictures/variantPicture'
import { object, string, type InferType } from '../yup'

/** Where the build of the script expects what the page is told. */
export const DEVICE_PLACE = '__VETCH_DEVICE__'

/** What a copy of a page is told of the device that it is on: by its request, and by its browser. */
export interface ToldDevice extends Pick<Device, 'userAgent' | 'width' | 'height' | 'isTouch'> {
  language: string
}

/** As which device a page is fetched; none for as it comes. */
export const toldDeviceSchema = object({
  device: string().oneOf(DEVICES.map(({ width }) => String(width))),
  language: languageSchema(),
})

export function toldDeviceOf({ device, language }: InferType<typeof toldDeviceSchema>): ToldDevice | null {
  const found = DEVICES.find(({ width }) => String(width) === device)
  if (!found) return null
  const { userAgent, width, height, isTouch } = found
  return { userAgent, width, height, isTouch, language }
}
