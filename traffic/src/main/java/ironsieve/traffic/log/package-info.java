/**
 * Logs and flow records as records of traffic: syslog in our documented structured data, tables and
 * JSON lines of any columns through a mapping, and IPFIX. What a line does not say stays unsaid.
 */
package ironsieve.traffic.log;
