package ironsieve.text;

import ironsieve.model.Rulebase;
import java.util.List;
import java.util.Map;

/**
 * A rulebase as it stands in a file.
 *
 * @param rulebase what it says
 * @param comments the comments before each line that has any, by what the line says in short (see
 *     {@link RulebaseReader}); those at the end of the file under an empty key
 */
public record RulebaseFile(Rulebase rulebase, Map<String, List<String>> comments) {

  public RulebaseFile {
    comments = Map.copyOf(comments);
  }

  /** A rulebase without comments. */
  public static RulebaseFile of(Rulebase rulebase) {
    return new RulebaseFile(rulebase, Map.of());
  }
}
