/**
 * Iron Sieve without a server, for pipelines: check, probe, impact, fmt and convert. In: rulebase
 * files and a company's folder. Out: text or JSON, and an exit status.
 */
package ironsieve.cli;
