import type { RenderedSiteFile } from '../../shared/delivery/siteFile'
import { everyKind } from '../edits/everyKind'
import { startSnippet } from './start'

declare const __VETCH_SITE_FILE__: RenderedSiteFile

/** The snippet of sites where an experiment runs that changes more than texts. */
startSnippet(__VETCH_SITE_FILE__, everyKind)
