package ironsieve.review;

import ironsieve.compile.CompiledRule;
import ironsieve.compile.CompiledRulebase;
import ironsieve.decide.Hits;
import ironsieve.decide.Traffic;
import ironsieve.model.Tape;
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
  private final Map<String, List<Finding>> overall;
  private final Traffic traffic;
  private final Hits hits;
  // What is said of a rule for what other rules or the recorded traffic are.
  private final Map<String, List<Finding>> hanging;
  private Map<String, Integer> numbers;

  Review(Reviewing reviewing, Map<String, Reviewed> rules, Practice practice) {
    this(
        reviewing.compiled(),
        reviewing.budget(),
        rules,
        practice.needs().resolvers(),
        practice.overall(rules),
        reviewing.traffic());
  }

  private Review(
      CompiledRulebase compiled,
      Budget budget,
      Map<String, Reviewed> rules,
      Map<String, Set<String>> resolvers,
      Map<String, List<Finding>> overall,
      Traffic traffic) {
    this.compiled = compiled;
    this.budget = budget;
    this.rules = rules;
    this.resolvers = resolvers;
    this.overall = overall;
    this.traffic = traffic;
    hits = Hits.of(compiled, traffic);
    hanging = new HashMap<>(overall);
    Unused.findings(hits, rules)
        .forEach((rule, never) -> hanging.merge(rule, List.of(never), Review::both));
  }

  private static List<Finding> both(List<Finding> some, List<Finding> more) {
    return Stream.concat(some.stream(), more.stream()).toList();
  }

  /**
   * The same, where it says of these rules what another said by the same objects; then nobody has
   * to compare.
   */
  Review knowing(Review other, Set<String> again) {
    for (String id : again) {
      rules.computeIfPresent(
          id,
          (same, reviewed) ->
              reviewed.equals(other.rules.get(id)) ? other.rules.get(id) : reviewed);
    }
    return this;
  }

  /** The same review beside other recorded traffic. */
  public Review over(List<Tape> others) {
    return new Review(compiled, budget, rules, resolvers, overall, Traffic.of(others));
  }

  /** What the rulebase catches of the recorded traffic it was reviewed beside. */
  public Hits hits() {
    return hits;
  }

  /** The rulebase that was reviewed. */
  public CompiledRulebase compiled() {
    return compiled;
  }

  /** What this review was made with, for one of another rulebase. */
  Reviewing reviewing(CompiledRulebase other, Progress progress) {
    return new Reviewing(other, budget, traffic, progress);
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
    List<Finding> more = hanging.get(rule);
    return more == null
        ? own
        : both(own, more).stream().sorted(Comparator.comparing(Finding::severity)).toList();
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
    return new Mark(rules, hanging);
  }

  /** What one review said, without the rulebase it said it of. */
  public static final class Mark {
    private final Map<String, Reviewed> rules;
    private final Map<String, List<Finding>> hanging;

    private Mark(Map<String, Reviewed> rules, Map<String, List<Finding>> hanging) {
      this.rules = rules;
      this.hanging = hanging;
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
              || !Objects.equals(other.hanging.get(id), hanging.get(id))) {
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
