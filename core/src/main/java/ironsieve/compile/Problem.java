package ironsieve.compile;

import ironsieve.model.FieldName;
import java.util.Optional;

/**
 * Something in a rulebase that cannot be read against its surroundings.
 *
 * @param place where: "rule X" or "set X"
 * @param id the rule's id or the set's name
 * @param field the rule's field, or nothing in a set
 * @param message what is wrong and what would be right
 */
public record Problem(String place, String id, Optional<FieldName> field, String message) {}
