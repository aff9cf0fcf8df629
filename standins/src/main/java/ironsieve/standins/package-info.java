/**
 * Small stand-ins of what the demo company's sources read, on loopback: a directory over LDAP, a
 * web server with feeds and editions, a name server. In: the files under {@code demo/}. Out: what
 * has changed since, so that a newcomer can read a source and see something arrive.
 */
package ironsieve.standins;
