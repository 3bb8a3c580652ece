/** Something about a whole site that keeps it from being folded: no row of it is to blame. */
export class SiteFault extends Error {}
