/**
 * What time it is, for everything that is said of today and now; and threads for what time brings.
 */
package ironsieve.server.clock;
