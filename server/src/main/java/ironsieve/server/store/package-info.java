/**
 * PostgreSQL through plain JDBC. In: documents, the form records have in the database, in the API
 * and in the demo files alike. Out: the same, and the core's nouns made from them.
 */
package ironsieve.server.store;
