/** The path under which the desk is served, as `/desk`; '' where it has a name of its own. Put in when it starts. */
export const BASE = process.env.EXPO_BASE_URL ?? ''

/** @param path of the desk, as `/api/desk` */
export const under = (path: string): string => `${BASE}${path}`
