package ironsieve.compile;

import ironsieve.model.Environment;
import ironsieve.model.Outcome;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.progress.Progress;
import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;

/**
 * A rulebase read against its surroundings: the rules that take part, each with its claim over
 * shared atoms, and an index from points and boxes to rules. Immutable; decisions, review and
 * impact all start here.
 */
public final class CompiledRulebase {

  private final Rulebase rulebase;
  private final MatchCompiler matchCompiler;
  private final List<CompiledRule> rules;
  private final Layout layout;
  private final BoxIndex index;
  // By id; made when first asked for. Two threads that both do come to the same.
  private volatile Map<String, Integer> numbers;

  private CompiledRulebase(
      Rulebase rulebase,
      MatchCompiler matchCompiler,
      List<CompiledRule> rules,
      Layout layout,
      BoxIndex index) {
    this.rulebase = rulebase;
    this.matchCompiler = matchCompiler;
    this.rules = Collections.unmodifiableList(rules);
    this.layout = layout;
    this.index = index;
  }

  private static CompiledRulebase read(
      Rulebase rulebase, MatchCompiler matchCompiler, Progress progress) {
    progress.begin("compiling rules", rulebase.rules().size());
    List<CompiledRule> rules = new ArrayList<>();
    for (Rule rule : rulebase.rules()) {
      progress.check();
      if (rule.isOn()) {
        rules.add(matchCompiler.compiled(rules.size(), rule));
      }
      progress.oneMore();
    }
    Layout layout = Layout.of(rules);
    BoxIndex index = new BoxIndex(layout.boxes(), matchCompiler.space());
    return new CompiledRulebase(rulebase, matchCompiler, rules, layout, index);
  }

  /** The same rulebase over finer atoms; only rules that hold something of what was cut change. */
  CompiledRulebase over(Space finer, Refinement refinement) {
    List<CompiledRule> carried = new ArrayList<>(rules);
    Box[] boxes = layout.boxes().clone();
    IndexSet cut = index.cut(refinement);
    for (int b = cut.next(0); b >= 0; b = cut.next(firstBox(ruleOfBox(b) + 1))) {
      CompiledRule rule = rules.get(ruleOfBox(b));
      Box[] finely = new Box[rule.boxes().size()];
      for (int i = 0; i < finely.length; i++) {
        finely[i] = refinement.of(rule.boxes().get(i));
        boxes[firstBox(rule.index()) + i] = finely[i];
      }
      carried.set(
          rule.index(),
          new CompiledRule(rule.index(), rule.rule(), List.of(finely), rule.outcomes()));
    }
    CompiledRulebase same =
        new CompiledRulebase(
            rulebase,
            new MatchCompiler(finer, names()),
            carried,
            layout.with(boxes),
            index.over(boxes, finer, refinement));
    same.numbers = numbers;
    return same;
  }

  /**
   * Another rulebase over the same space.
   *
   * @param on its rules that take part
   * @param origins for each of them the number here of the rule that claims the same, or −1; the
   *     latter are read
   */
  CompiledRulebase followedBy(
      Rulebase next, Names nextNames, List<Rule> on, int[] origins, Progress progress) {
    progress.begin("compiling rules", (int) Arrays.stream(origins).filter(was -> was < 0).count());
    MatchCompiler reading = new MatchCompiler(space(), nextNames);
    List<CompiledRule> following = new ArrayList<>(origins.length);
    for (int i = 0; i < origins.length; i++) {
      Rule rule = on.get(i);
      CompiledRule known =
          origins[i] < 0 ? compiled(reading, i, rule, progress) : rules.get(origins[i]);
      following.add(
          known.index() == i && known.rule() == rule
              ? known
              : new CompiledRule(i, rule, known.boxes(), known.outcomes()));
    }
    Layout laid = layout.followedBy(following, origins);
    return new CompiledRulebase(
        next, reading, following, laid, index.followedBy(laid.boxes(), space()));
  }

  private static CompiledRule compiled(
      MatchCompiler reading, int index, Rule rule, Progress progress) {
    progress.check();
    CompiledRule compiled = reading.compiled(index, rule);
    progress.oneMore();
    return compiled;
  }

  /**
   * Compiles a rulebase.
   *
   * @throws ProblemException if a name in it stands for nothing or a set holds itself
   */
  public static CompiledRulebase of(Rulebase rulebase, Environment environment) {
    Names names = new Names(rulebase.parts(), environment);
    Check.demand(Check.problems(rulebase, names));
    return alone(rulebase, names);
  }

  /**
   * Compiles a rulebase of which some names may stand for nothing: what they name may have been
   * removed since. Where they stand they match nothing, and everything else means what it says.
   *
   * @throws ProblemException if anything else is wrong
   */
  public static CompiledRulebase asFarAsKnown(Rulebase rulebase, Environment environment) {
    Names names = new Names(rulebase.parts(), environment);
    Check.demand(Check.broken(rulebase, names));
    return alone(rulebase, names);
  }

  private static CompiledRulebase alone(Rulebase rulebase, Names names) {
    Environment environment = names.environment();
    Space space = new Space(List.of(new Space.Scope(rulebase, names)), environment);
    return over(space, rulebase, names, new Progress());
  }

  /**
   * Compiles a rulebase over a space that was made for its rules among others.
   *
   * @param names what its names stand for; must have no problems with it
   * @param progress told of every rule that is read
   * @throws java.util.concurrent.CancellationException soon after it is stopped
   */
  public static CompiledRulebase over(
      Space space, Rulebase rulebase, Names names, Progress progress) {
    return read(rulebase, new MatchCompiler(space, names), progress);
  }

  /** What the names in the rulebase stand for. */
  public Names names() {
    return matchCompiler.names();
  }

  /** Why names in the rulebase stand for nothing, each once; empty if all stand for something. */
  public List<String> unknownNames() {
    return Check.problems(rulebase, names()).stream()
        .filter(problem -> problem.kind() == Problem.Kind.UNKNOWN_NAME)
        .map(Problem::message)
        .distinct()
        .toList();
  }

  /** What the rulebase says in boxes. */
  public MatchCompiler matchCompiler() {
    return matchCompiler;
  }

  public Rulebase rulebase() {
    return rulebase;
  }

  public Space space() {
    return matchCompiler.space();
  }

  /** The rules that take part, from the top. */
  public List<CompiledRule> rules() {
    return rules;
  }

  /** The rule with this id, if it takes part. */
  public Optional<CompiledRule> rule(String id) {
    return Optional.ofNullable(numbers().get(id)).map(rules::get);
  }

  /** For each of some rules its number here, or −1. */
  int[] numbersOf(List<Rule> some) {
    int[] numbers = new int[some.size()];
    int most = Math.min(some.size(), rules.size());
    // An edit leaves most rules the very objects they were; ids take longer to compare.
    int first = 0;
    while (first < most && rules.get(first).rule() == some.get(first)) {
      numbers[first] = first;
      first++;
    }
    int later = rules.size() - some.size();
    int last = some.size();
    while (last > first
        && last + later > first
        && rules.get(last - 1 + later).rule() == some.get(last - 1)) {
      last--;
      numbers[last] = last + later;
    }
    int begin = first;
    int[] between =
        RuleAlignment.of(
            last - begin,
            number -> some.get(begin + number).id(),
            last + later - begin,
            number -> rules.get(begin + number).rule().id());
    for (int i = 0; i < between.length; i++) {
      numbers[begin + i] = between[i] < 0 ? -1 : begin + between[i];
    }
    return numbers;
  }

  private Map<String, Integer> numbers() {
    Map<String, Integer> known = numbers;
    if (known == null) {
      Map<String, Integer> made = new HashMap<>(rules.size() * 2);
      rules.forEach(rule -> made.put(rule.rule().id(), rule.index()));
      numbers = made;
      known = made;
    }
    return known;
  }

  /** All boxes of all rules, from the top; put together each time. */
  public List<Box> boxes() {
    return Arrays.stream(layout.boxes()).filter(Objects::nonNull).toList();
  }

  /** How many numbers there are; some are of no box. */
  public int boxNumbers() {
    return layout.boxes().length;
  }

  /** A box by its number; null if the number is of none. */
  public Box box(int number) {
    return layout.boxes()[number];
  }

  /** Which rule a box belongs to. */
  public int ruleOfBox(int box) {
    return layout.ruleOf()[box];
  }

  /** The numbers of the rules that claim something in a box, from the top. */
  public List<Integer> rulesMeeting(Box box) {
    return rulesMeeting(box, rules.size());
  }

  /** The numbers of the rules above one that claim something in a box, from the top. */
  public List<Integer> rulesMeeting(Box box, int below) {
    List<Integer> found = new ArrayList<>();
    IndexSet meeting = index.meeting(box);
    for (int n = meeting.next(0); n >= 0 && n < firstBox(below); n = meeting.next(n + 1)) {
      int rule = ruleOfBox(n);
      if (found.isEmpty() || found.get(found.size() - 1) != rule) {
        found.add(rule);
      }
    }
    return found;
  }

  /** What happens to the connections of a box; to those of none (−1), the default verdict. */
  public Outcome outcomeOfBox(int box) {
    return box < 0 ? Outcome.of(rulebase.defaultVerdict()) : layout.outcomes()[box];
  }

  /**
   * The number of a rule's first box; its others follow. For one past the last rule, {@link
   * #boxNumbers()}.
   */
  public int firstBox(int rule) {
    return layout.first()[rule];
  }

  public BoxIndex index() {
    return index;
  }

  /** The rule that catches a point, or −1 for the default verdict. */
  public int firstMatch(int[] point) {
    int box = index.first(point);
    return box < 0 ? -1 : ruleOfBox(box);
  }

  /** What happens to the connections of a point. */
  public Outcome outcome(int[] point) {
    return outcomeOfBox(index.first(point));
  }
}
