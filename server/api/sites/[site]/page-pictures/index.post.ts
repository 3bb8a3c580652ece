import { useRuntimeConfig } from '#imports'
import { deliveryFile } from '~~/server/routing/deliveryFile'
import { defineOperation } from '~~/server/routing/operation'
import { keepPagePicture } from '~~/server/services/pictures/pagePictures'

export default defineOperation('keepPagePicture', async ({ event, database, siteId, personId, body }) => {
  const trustedOrigins = useRuntimeConfig(event).demoOrigins.split(',').filter(Boolean)
  const listPlaces = await deliveryFile('places.js')
  return keepPagePicture(database, { siteId, personId }, body, { listPlaces, trustedOrigins })
})
