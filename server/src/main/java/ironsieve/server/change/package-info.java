/**
 * What an edit changes, as records: kind, key and document before and after. In: two states of a
 * rulebase or of the workspace. Out: the changes between them, and a state with changes made in it,
 * each merged with what somebody else has changed since. Knows no database.
 */
package ironsieve.server.change;
