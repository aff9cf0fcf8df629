/**
 * How applications and features are recognised: the language of signatures, all of them compiled
 * into one matcher, and signatures that cannot be told apart. Knows what a connection has shown and
 * nothing of packets.
 */
package ironsieve.traffic.signature;
