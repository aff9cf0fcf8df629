/**
 * Live traffic into tapes, and what the connections of a capture showed, kept so that they can be
 * told anew.
 */
package ironsieve.server.tapes;
