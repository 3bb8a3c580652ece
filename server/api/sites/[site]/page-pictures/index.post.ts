import { deliveryFile } from '~~/server/http/deliveryFile'
import { defineOperation } from '~~/server/http/operation'
import { trustedOrigins } from '~~/server/http/trustedOrigins'
import { keepPagePicture } from '~~/server/services/pictures/pagePictures'

export default defineOperation('keepPagePicture', async ({ event, database, siteId, personId, body }) => {
  const listPlaces = await deliveryFile('places.js')
  return keepPagePicture(database, { siteId, personId }, body, { listPlaces, trustedOrigins: trustedOrigins(event) })
})
