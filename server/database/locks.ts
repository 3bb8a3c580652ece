/**
 * Numbers of the advisory locks. Whoever needs several locks takes the row of the experiment first, then that of the
 * site, then `COMPILE_LOCK` of the site and of its environments. Rows are held FOR NO KEY UPDATE: the log refers to them.
 * `tests/integration/rollouts.test.ts` holds it.
 *
 * Every transaction that adds views or events holds `INTAKE_LOCK` shared. Whoever holds it alone, if only for a moment,
 * knows that everything with a lower `seq` can be seen.
 */
export const INTAKE_LOCK = 7101
/** Held, together with the site's id, by whoever folds a site or computes its sums anew. */
export const FOLD_LOCK = 7102
/** Held, together with the site's id, by whoever compiles a site file. */
export const COMPILE_LOCK = 7103
/** Held, together with the experiment's id, by whoever computes its summary and looks. */
export const SUMMARY_LOCK = 7104
