/**
 * In: recorded traffic of any size in files, a rulebase and a company. Out: what the rulebase does
 * with it, as files. A job for Apache Spark, which shares the files out among processors or
 * machines; each share is read, decided and added up by the same code as on one machine, and the
 * sums of all shares are added up.
 *
 * <pre>
 * driver: company, rulebases ─▶ Sent (a broadcast; compiled once by each executor)
 * files ─▶ rows ─▶ Share: records ─▶ columns ─▶ decisions ─▶ sums ─▶ one sum of all shares ─▶ files
 * </pre>
 */
package ironsieve.replay;
