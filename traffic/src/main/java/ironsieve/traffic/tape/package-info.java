/**
 * Records of traffic as the lines of a tape: connections of captures and lines of logs are put into
 * the words of a company – zones, people, applications – and equal ones together.
 */
package ironsieve.traffic.tape;
