/**
 * The file formats and the documents records are kept as. In: text, JSON and CSV. Out: the nouns of
 * the core, and back. May import the core and libraries for JSON and CSV.
 *
 * <pre>
 * text, JSON, CSV, RFC 8519 ◀─▶ Contents (documents) ◀─ DocumentReader, DocumentWriter ─▶ Rulebase
 * folder ─▶ CompanyFolder ─▶ Environment;  TapeCsv ─▶ tape
 * </pre>
 */
package ironsieve.files;
