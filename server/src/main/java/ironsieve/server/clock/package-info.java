/** What time it is, for everything that is said of today and now. */
package ironsieve.server.clock;
