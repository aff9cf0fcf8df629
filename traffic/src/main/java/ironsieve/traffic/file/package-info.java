/**
 * Files of recorded traffic made into tapes: which format a file is, and its records in the words
 * of a company. What server and command line use.
 */
package ironsieve.traffic.file;
