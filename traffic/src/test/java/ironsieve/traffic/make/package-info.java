/**
 * Captures made of what signatures ask for: real packets of made-up connections, for the demo and
 * for tests. Written on its own, so that what it writes and what the readers read can be held
 * together.
 */
package ironsieve.traffic.make;
