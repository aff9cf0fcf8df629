package ironsieve.model;

import java.util.List;
import java.util.Optional;

/**
 * An ordered list of rules, read from the top, with the named sets it uses.
 *
 * @param name what engineers call it
 * @param chapters in reading order; a rule belongs to exactly one
 * @param sets its named sets
 * @param lastLine the verdict for what no rule catches
 */
public record Rulebase(String name, List<Chapter> chapters, List<NamedSet> sets, Verdict lastLine) {

  public Rulebase {
    chapters = List.copyOf(chapters);
    sets = List.copyOf(sets);
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
