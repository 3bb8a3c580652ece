import { EVERYWHERE, type CollectionSettings } from '../shared/collection/collection'

/** What a site collects on all pages, by the shares of its visitors in buckets of 10,000. */
export function collected({ behavior = 0, recording = 0, masksText = false } = {}): CollectionSettings {
  return {
    behavior: { share: behavior, pages: [...EVERYWHERE] },
    recording: { share: recording, pages: [...EVERYWHERE], masksText, days: 30, megabytes: 100 },
  }
}
