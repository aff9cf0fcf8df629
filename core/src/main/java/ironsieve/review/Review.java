package ironsieve.review;

import ironsieve.compile.CompiledRulebase;
import ironsieve.progress.Progress;
import ironsieve.recorded.Hits;
import ironsieve.recorded.RecordedDecisions;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;

/** Everything the review has to say about a rulebase; see {@link Reviewer}. Immutable. */
public final class Review {

  private final CompiledRulebase compiled;
  private final Budget budget;
  private final ReviewedRules rules;
  private final Map<String, Set<String>> resolvers;
  private final Map<Integer, List<Finding>> overall;
  private final RecordedDecisions recorded;
  private final Hits hits;
  private final Unused unused;
  private Map<String, Integer> numbers;

  Review(ReviewContext reviewing, ReviewedRules rules, PolicyChecks checks) {
    this(
        reviewing.compiled(),
        reviewing.budget(),
        rules,
        checks.needs().resolvers(),
        checks.overall(rules),
        reviewing.recorded());
  }

  private Review(
      CompiledRulebase compiled,
      Budget budget,
      ReviewedRules rules,
      Map<String, Set<String>> resolvers,
      Map<Integer, List<Finding>> overall,
      RecordedDecisions recorded) {
    this.compiled = compiled;
    this.budget = budget;
    this.rules = rules;
    this.resolvers = resolvers;
    this.overall = overall;
    this.recorded = recorded;
    hits = recorded.hits();
    unused = new Unused(hits);
  }

  /** The same review beside other recorded traffic, decided by the rulebase that was reviewed. */
  public Review over(RecordedDecisions other) {
    return new Review(compiled, budget, rules, resolvers, overall, other);
  }

  /** What the rulebase catches of the recorded traffic it was reviewed beside. */
  public Hits hits() {
    return hits;
  }

  /** The rulebase that was reviewed. */
  public CompiledRulebase compiled() {
    return compiled;
  }

  /** What the rulebase does with the traffic it was reviewed beside. */
  public RecordedDecisions recorded() {
    return recorded;
  }

  /** What this review was made with, for one of another rulebase. */
  ReviewContext reviewing(RecordedDecisions other, Progress progress) {
    return new ReviewContext(other.compiled(), budget, other, progress);
  }

  /** What was said of each rule on its own. */
  ReviewedRules reviewed() {
    return rules;
  }

  Map<String, Set<String>> resolvers() {
    return resolvers;
  }

  /** All findings in the order of the rules, the worst first within each. */
  public List<Finding> findings() {
    List<Finding> all = new ArrayList<>();
    for (int rule = 0; rule < rules.size(); rule++) {
      all.addAll(of(rule));
    }
    return all;
  }

  /** All findings, the worst first and those of equal weight in the order of the rules. */
  public List<Finding> worstFirst() {
    return findings().stream().sorted(Comparator.comparing(Finding::severity)).toList();
  }

  /** The findings about one rule, the worst first; none about one that does not take part. */
  public List<Finding> of(String rule) {
    return compiled.rule(rule).map(one -> of(one.index())).orElse(List.of());
  }

  private List<Finding> of(int rule) {
    List<Finding> own = rules.get(rule).findings();
    List<Finding> whole = overall.getOrDefault(rule, List.of());
    Optional<Finding> never = unused.finding(rule, rules.get(rule));
    return whole.isEmpty() && never.isEmpty()
        ? own
        : Stream.of(own.stream(), whole.stream(), never.stream())
            .flatMap(some -> some)
            .sorted(Comparator.comparing(Finding::severity))
            .toList();
  }

  /**
   * How much of a rule's claim still reaches it.
   *
   * @param rule the id of a rule that takes part
   */
  public Residue residue(String rule) {
    return rules.get(compiled.rule(rule).orElseThrow().index()).residue();
  }

  /** By rule id, how much of its claim still reaches each rule that takes part. */
  public Map<String, Residue> residues() {
    Map<String, Residue> all = new HashMap<>();
    for (int rule = 0; rule < rules.size(); rule++) {
      all.put(rules.id(rule), rules.get(rule).residue());
    }
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
    return new Mark(rules, overall, unused);
  }

  /** What one review said, without the rulebase it said it of. */
  public static final class Mark {
    private final ReviewedRules rules;
    private final Map<Integer, List<Finding>> overall;
    private final Unused unused;

    private Mark(ReviewedRules rules, Map<Integer, List<Finding>> overall, Unused unused) {
      this.rules = rules;
      this.overall = overall;
      this.unused = unused;
    }
  }

  /** The ids of the rules of which this review does not say what another did. */
  public Set<String> since(Mark other) {
    Set<String> changed = new HashSet<>();
    BitSet gone = new BitSet();
    gone.set(0, other.rules.size());
    boolean sameWords = unused.saysAlike(other.unused);
    int[] numbers = rules.numbersIn(other.rules);
    for (int rule = 0; rule < rules.size(); rule++) {
      int was = numbers[rule];
      if (was >= 0) {
        gone.clear(was);
      }
      // The same object if nothing concerned the rule; then there is nothing to compare.
      if (was < 0
          || other.rules.get(was) != rules.get(rule)
          || !sameWords
          || unused.isHit(rule) != other.unused.isHit(was)
          || !Objects.equals(other.overall.get(was), overall.get(rule))) {
        changed.add(rules.id(rule));
      }
    }
    gone.stream().mapToObj(other.rules::id).forEach(changed::add);
    return changed;
  }

  /** A finding in words, with the rules by their numbers. */
  public String sentence(Finding finding) {
    return finding.said().with(this::number);
  }
}
