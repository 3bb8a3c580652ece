import { number, object, string } from '../yup'

/** Under this symbol the script that lists places leaves its function. */
export const PLACES_MARK = 'vetch places'
/** Path of an element, its place and its size, in CSS pixels. */
export type ElementPlace = [path: string, x: number, y: number, width: number, height: number]

const pathField = () =>
  string()
    .matches(/^\/(?![/\\])/, 'Type the path of the page, such as /book.')
    .max(2000, 'The path is longer than 2,000 characters.')
    .required('Say which page.')
const widthField = () =>
  number()
    .typeError('A width is a number of pixels.')
    .integer('A width is a whole number of pixels.')
    .min(200, 'A width is at least 200 pixels.')
    .max(3000, 'A width is at most 3,000 pixels.')
    .required('Say how wide the window is.')

export const pagePictureSchema = object({ path: pathField(), width: widthField() })
