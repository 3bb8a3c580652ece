import type { SiteFile } from '../../shared/delivery/siteFile'
import { textOnly } from '../edits/textOnly'
import { startSnippet } from './start'

declare const __VETCH_SITE_FILE__: SiteFile

startSnippet(__VETCH_SITE_FILE__, textOnly)
