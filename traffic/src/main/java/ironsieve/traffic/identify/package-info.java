/**
 * Captures as connections: packets to flows, flows to what they show, and that to applications and
 * features. What the rest of the product uses of this module.
 */
package ironsieve.traffic.identify;
