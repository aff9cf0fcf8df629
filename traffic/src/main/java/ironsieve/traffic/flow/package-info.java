/**
 * Packets as flows: fragments put together, TCP streams in order, and for each flow its ends, times
 * and bytes. Knows nothing of what is said inside.
 */
package ironsieve.traffic.flow;
