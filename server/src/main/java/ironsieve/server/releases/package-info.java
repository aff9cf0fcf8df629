/**
 * Releases of rulebases and the gateways they go to. In: a revision, and what gateways say of
 * themselves. Out: signed manifests, their parts, and what is in force where.
 */
package ironsieve.server.releases;
