/**
 * Replays begun in the browser. Files that lie beside the server, too large to be sent to it, are
 * dropped through a rulebase by the command {@code sieve replay} in a process of its own: {@link
 * ironsieve.server.replays.Replays} writes the rulebase and its surroundings into a folder, follows
 * the process and keeps the {@link ironsieve.server.replays.ReplayResult} that is read from what it
 * wrote.
 */
package ironsieve.server.replays;
