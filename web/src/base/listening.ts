/** The server says when something changes; where that does not get through, it is asked as often, in milliseconds. */
export const ASKED_ANYWAY = 30_000;
