import { reveal } from '../snippet/reveal'

/** All that a browser gets which asks not to be tracked, where the site heeds it. */
reveal()
