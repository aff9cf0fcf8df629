/**
 * Live traffic into tapes: what is listened for, and what of a tape is too old to be kept. Tapes
 * themselves are kept by the store.
 */
package ironsieve.server.tapes;
