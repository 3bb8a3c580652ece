import type { InferType } from '../yup'
import { pagePictureSchema, type ElementPlace } from './pagePicture'
import { anything, exactly, id, listOf, moment, text, whole } from '../api/replyPieces'
import { answers, answersFile, confirms, type Operation } from '../api/operation'
import { SITE } from '../sites/operations'

const PICTURES = `${SITE}/page-pictures`
const PICTURE = `${PICTURES}/{picture}`
const picture = exactly({
  id: id(),
  path: text(),
  width: whole(),
  height: whole(),
  takenAt: moment(),
  person: text().nullable(),
})
/** A page as it was on some day. */
export type PagePicture = InferType<typeof picture>

export const PAGE_PICTURES = {
  listPagePictures: {
    method: 'get',
    path: PICTURES,
    access: 'viewer',
    summary: 'Pictures of a page that were kept, the latest first',
    query: pagePictureSchema,
    reply: answers(listOf(picture)),
  },
  keepPagePicture: {
    method: 'post',
    path: PICTURES,
    access: 'editor',
    summary: 'Take a picture of a page as it is now, and keep it',
    body: pagePictureSchema,
    reply: answers(picture),
  },
  readPagePicture: {
    method: 'get',
    path: PICTURE,
    access: 'viewer',
    summary: 'A picture of a page',
    produces: 'image/jpeg',
    reply: answersFile(),
  },
  readPagePlaces: {
    method: 'get',
    path: `${PICTURE}/places`,
    access: 'viewer',
    summary: 'Where the elements of a picture stand: path, place and size',
    reply: answers(listOf(anything<ElementPlace>())),
  },
  deletePagePicture: {
    method: 'delete',
    path: PICTURE,
    access: 'editor',
    summary: 'Delete a picture of a page',
    reply: confirms('deleted'),
  },
} as const satisfies Record<string, Operation>
