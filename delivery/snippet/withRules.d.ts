/** Whether the build is one for sites that ask more than paths: what only they need is left out of the others. */
declare const __WITH_RULES__: boolean
