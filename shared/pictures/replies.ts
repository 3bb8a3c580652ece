import { type InferType } from '../yup'
import { amount, exactly, id, listOf, moment, oneOf, text, whole, yesOrNo } from '../api/replyPieces'
import type { LayoutProblemKind } from '../../core/layout/layoutProblems'

const job = exactly({
  id: id(),
  state: oneOf('waiting', 'running', 'done', 'failed', 'canceled'),
  progress: amount(),
  problem: text().nullable(),
})
const variantPicture = exactly({
  id: id(),
  variant: text(),
  path: text(),
  width: whole(),
  height: whole(),
  language: text(),
  takenAt: moment(),
  /** Whether edits have changed since. */
  isStale: yesOrNo(),
  /** What looks wrong, and does not in the control. */
  problems: listOf(
    exactly({
      kind: oneOf<LayoutProblemKind>('overlap', 'cut', 'overflow', 'image', 'contrast'),
      text: text(),
      box: exactly({ x: amount(), y: amount(), width: amount(), height: amount() }),
    }),
  ),
})
/** A picture of one variant on one page in one width, as it was taken. */
export type VariantPicture = InferType<typeof variantPicture>

export const variantPicturesReply = exactly({
  /** Whether there is a browser to take pictures with. */
  canTake: yesOrNo(),
  /** Pages that pictures are taken of: the most visited ones of the experiment. */
  pages: listOf(text()),
  pictures: listOf(variantPicture),
  /** The latest work on them. */
  job: job.nullable(),
})
export type VariantPictures = InferType<typeof variantPicturesReply>
