/**
 * Loads the demo company into an empty database. In: the files under {@code demo/}. Out: records.
 */
package ironsieve.server.demo;
