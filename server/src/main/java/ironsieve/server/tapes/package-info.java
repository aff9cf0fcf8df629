/**
 * Tapes from files: which format a file is, its records in the words of the company, and what the
 * connections of a capture showed, kept so that they can be told anew.
 */
package ironsieve.server.tapes;
