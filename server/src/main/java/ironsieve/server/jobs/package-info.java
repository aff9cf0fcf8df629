/**
 * What the server is working on. In: work that somebody waits for, or that is done by itself. Out:
 * who began it, what it is at and how far, the way to cancel it, and what has failed.
 */
package ironsieve.server.jobs;
