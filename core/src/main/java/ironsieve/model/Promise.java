package ironsieve.model;

import java.util.Optional;

/**
 * A kept probe with the verdict it must get.
 *
 * @param id unique in its rulebase
 * @param connection what is probed
 * @param verdict what must happen to it
 * @param catcher the id of the rule that must catch it, if that matters too
 */
public record Promise(
    String id, Connection connection, Verdict verdict, Optional<String> catcher) {}
