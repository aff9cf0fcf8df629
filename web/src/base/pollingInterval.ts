/** The server says when something changes; where that does not get through, it is asked as often, in milliseconds. */
export const POLLING_INTERVAL = 30_000;
