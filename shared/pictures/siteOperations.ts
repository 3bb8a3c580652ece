import { object, string } from '../yup'
import { exactly, text } from '../api/replyPieces'
import { answers, answersFile, type Operation } from '../api/operation'
import { SITE } from '../sites/operations'

/** Largest picture that a variant may bring, in bytes: every visitor loads it. */
export const LARGEST_SITE_PICTURE = 2 * 1024 * 1024

export const SITE_PICTURES = {
  uploadPicture: {
    method: 'post',
    path: `${SITE}/pictures`,
    access: 'editor',
    summary: 'Add a picture for variants to show: the body is the file itself',
    query: object({
      name: string().trim().max(120, 'The name of the file is longer than 120 characters.').required('Name the file.'),
    }),
    reply: answers(exactly({ address: text() })),
  },
  readSitePicture: {
    method: 'get',
    path: '/pictures/{key}/{file}',
    access: 'anyone',
    summary: 'A picture that a variant shows',
    produces: 'application/octet-stream',
    reply: answersFile(),
  },
} as const satisfies Record<string, Operation>
