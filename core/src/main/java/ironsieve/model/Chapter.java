package ironsieve.model;

import java.util.List;

/**
 * A titled, foldable run of rules.
 *
 * @param id stable and unique in its rulebase
 * @param title what the run is about
 * @param note a sentence or two for the reader; may be empty
 * @param rules in the order they are read
 */
public record Chapter(String id, String title, String note, List<Rule> rules) {

  public Chapter {
    rules = List.copyOf(rules);
  }

  /** The same run with other rules in it. */
  public Chapter with(List<Rule> others) {
    return new Chapter(id, title, note, others);
  }
}
