/**
 * Stand-ins for the servers that clients reach through a gateway: one process on loopback that
 * answers for every host of the demo company and its catalogue, so that rules can be tried.
 */
package ironsieve.gateway.standins;
