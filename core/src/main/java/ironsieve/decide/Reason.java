package ironsieve.decide;

import ironsieve.model.FieldName;

/**
 * Why one field of a rule matched or did not.
 *
 * @param field the field
 * @param had what the connection had, in words
 * @param wanted what the rule wanted, in words; for a match, the value that held it
 */
public record Reason(FieldName field, String had, String wanted) {}
