import { defineOperation } from '~~/server/http/operation'
import { version } from '~~/package.json'
import { openApi } from '~~/shared/api/openapi'

export default defineOperation('describeApi', () => openApi(version))
