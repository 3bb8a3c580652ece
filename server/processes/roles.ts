/** What the processes of Vetch are for. Each may run several times, on one database. */
export const PROCESS_ROLES = ['gateway', 'edge', 'web', 'reports', 'worker'] as const
export type ProcessRole = (typeof PROCESS_ROLES)[number]
