package ironsieve.review;

import ironsieve.compile.CompiledRule;
import ironsieve.compile.CompiledRulebase;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.stream.Stream;

/** Everything the review has to say about a rulebase; see {@link Reviewer}. Immutable. */
public final class Review {

  private final CompiledRulebase compiled;
  private final Budget budget;
  private final Map<String, Reviewed> rules;
  private final Map<String, Set<String>> resolvers;
  private final Map<String, Finding> overall;
  private Map<String, Integer> numbers;

  Review(CompiledRulebase compiled, Budget budget, Map<String, Reviewed> rules, Practice practice) {
    this.compiled = compiled;
    this.budget = budget;
    this.rules = rules;
    resolvers = practice.resolvers();
    overall = practice.overall(rules);
  }

  /** The rulebase that was reviewed. */
  public CompiledRulebase compiled() {
    return compiled;
  }

  Budget budget() {
    return budget;
  }

  Reviewed reviewed(String rule) {
    return rules.get(rule);
  }

  Map<String, Set<String>> resolvers() {
    return resolvers;
  }

  /** All findings in the order of the rules, the worst first within each. */
  public List<Finding> findings() {
    List<Finding> all = new ArrayList<>();
    for (CompiledRule rule : compiled.rules()) {
      all.addAll(of(rule.rule().id()));
    }
    return all;
  }

  /** All findings, the worst first and those of equal weight in the order of the rules. */
  public List<Finding> worstFirst() {
    return findings().stream().sorted(Comparator.comparing(Finding::severity)).toList();
  }

  /** The findings about one rule, the worst first; none about one that does not take part. */
  public List<Finding> of(String rule) {
    List<Finding> own = rules.containsKey(rule) ? rules.get(rule).findings() : List.of();
    Finding more = overall.get(rule);
    return more == null
        ? own
        : Stream.concat(own.stream(), Stream.of(more))
            .sorted(Comparator.comparing(Finding::severity))
            .toList();
  }

  /**
   * How much of a rule's claim still reaches it.
   *
   * @param rule the id of a rule that takes part
   */
  public Residue residue(String rule) {
    return rules.get(rule).residue();
  }

  /** By rule id, how much of its claim still reaches each rule that takes part. */
  public Map<String, Residue> residues() {
    Map<String, Residue> all = new HashMap<>();
    rules.forEach((id, reviewed) -> all.put(id, reviewed.residue()));
    return all;
  }

  /** The number of a rule from the top, disabled ones counted. */
  public synchronized int number(String rule) {
    if (numbers == null) {
      numbers = new HashMap<>();
      compiled.rulebase().rules().forEach(one -> numbers.put(one.id(), numbers.size() + 1));
    }
    return numbers.get(rule);
  }

  /** What was said of each rule, to tell later what has changed. */
  public Mark mark() {
    return new Mark(rules, overall);
  }

  /** What one review said, without the rulebase it said it of. */
  public static final class Mark {
    private final Map<String, Reviewed> rules;
    private final Map<String, Finding> overall;

    private Mark(Map<String, Reviewed> rules, Map<String, Finding> overall) {
      this.rules = rules;
      this.overall = overall;
    }
  }

  /** The ids of the rules of which this review does not say what another did. */
  public Set<String> since(Mark other) {
    Set<String> changed = new HashSet<>(other.rules.keySet());
    changed.removeAll(rules.keySet());
    rules.forEach(
        (id, reviewed) -> {
          // The same object if nothing concerned the rule; then there is nothing to compare.
          if (other.rules.get(id) != reviewed
              || !Objects.equals(other.overall.get(id), overall.get(id))) {
            changed.add(id);
          }
        });
    return changed;
  }

  /** A finding in words, with the rules by their numbers. */
  public String sentence(Finding finding) {
    return finding.said().with(this::number);
  }
}
