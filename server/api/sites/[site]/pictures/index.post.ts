import { useRuntimeConfig } from '#imports'
import { defineOperation } from '~~/server/http/operation'
import { readLimitedBytes } from '~~/server/http/readLimited'
import { addSitePicture } from '~~/server/services/pictures/sitePictures'
import { LARGEST_SITE_PICTURE } from '~~/shared/pictures/siteOperations'

export default defineOperation('uploadPicture', async ({ event, database, siteId, personId, query }) => {
  const content = await readLimitedBytes(event, LARGEST_SITE_PICTURE)
  const path = await addSitePicture(database, { siteId, personId }, { name: query.name, content })
  return { address: new URL(path, useRuntimeConfig(event).ownOrigin).href }
})
