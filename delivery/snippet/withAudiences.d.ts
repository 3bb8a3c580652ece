/** Whether the build is one for sites that have conditions on visitors: what only they need is left out of the others. */
declare const __WITH_AUDIENCES__: boolean
