package ironsieve.model;

import java.util.List;
import java.util.Optional;

/**
 * An ordered list of rules, read from the top, with what they share.
 *
 * @param name what engineers call it
 * @param chapters in reading order; a rule belongs to exactly one
 * @param parts named sets, sheets, notices, lanes and what is decrypted
 * @param defaultVerdict the verdict for what no rule catches
 */
public record Rulebase(String name, List<Chapter> chapters, Parts parts, Verdict defaultVerdict) {

  public Rulebase {
    chapters = List.copyOf(chapters);
    if (defaultVerdict.shows()) {
      throw new IllegalArgumentException("the default verdict is allow, deny or reject");
    }
  }

  /** A rulebase whose rules share named sets only. */
  public Rulebase(
      String name, List<Chapter> chapters, List<NamedSet> sets, Verdict defaultVerdict) {
    this(name, chapters, Parts.of(sets), defaultVerdict);
  }

  public List<NamedSet> sets() {
    return parts.sets();
  }

  /** All rules from the top, disabled ones included. */
  public List<Rule> rules() {
    return chapters.stream().flatMap(chapter -> chapter.rules().stream()).toList();
  }

  /** The rule with this id. */
  public Optional<Rule> rule(String id) {
    return chapters.stream()
        .flatMap(chapter -> chapter.rules().stream())
        .filter(rule -> rule.id().equals(id))
        .findFirst();
  }
}
