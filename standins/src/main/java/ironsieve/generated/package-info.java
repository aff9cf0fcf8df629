/**
 * Rulebases and recorded traffic of any size, made to look like grown ones, for trying how fast the
 * product is. In: a size and a seed. Out: a rulebase and a tape.
 */
package ironsieve.generated;
