import type { RenderedSiteFile } from '../../shared/delivery/siteFile'
import { textOnly } from '../edits/textOnly'
import { startSnippet } from './start'

declare const __VETCH_SITE_FILE__: RenderedSiteFile

startSnippet(__VETCH_SITE_FILE__, textOnly)
