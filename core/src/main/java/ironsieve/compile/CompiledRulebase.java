package ironsieve.compile;

import ironsieve.model.Outcome;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Surroundings;
import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.IntStream;

/**
 * A rulebase read against its surroundings: the rules that take part, each with its claim over
 * shared atoms, and an index from points and boxes to rules. Immutable; decisions, review and
 * impact all start here.
 */
public final class CompiledRulebase {

  private final Rulebase rulebase;
  private final Claiming claiming;
  private final List<CompiledRule> rules;
  private final Map<String, Integer> places;
  private final List<Box> boxes = new ArrayList<>();
  private final List<Outcome> outcomes = new ArrayList<>();
  private final int[] ruleOfBox;
  private final int[] firstBox;
  private final BoxIndex index;

  private CompiledRulebase(
      Rulebase rulebase,
      Claiming claiming,
      List<CompiledRule> rules,
      Map<String, Integer> places,
      Indexing indexing) {
    this.rulebase = rulebase;
    this.claiming = claiming;
    this.rules = List.copyOf(rules);
    this.places = places;
    firstBox = new int[rules.size() + 1];
    for (CompiledRule rule : this.rules) {
      firstBox[rule.index()] = boxes.size();
      for (int b = 0; b < rule.boxes().size(); b++) {
        boxes.add(rule.boxes().get(b));
        outcomes.add(rule.outcomes().get(b));
      }
    }
    firstBox[rules.size()] = boxes.size();
    ruleOfBox = new int[boxes.size()];
    for (CompiledRule rule : this.rules) {
      Arrays.fill(ruleOfBox, firstBox[rule.index()], firstBox[rule.index() + 1], rule.index());
    }
    index = indexing.of(boxes);
  }

  /** Makes the index of some boxes. */
  private interface Indexing {
    BoxIndex of(List<Box> boxes);
  }

  private static CompiledRulebase read(Rulebase rulebase, Claiming claiming) {
    List<CompiledRule> rules = new ArrayList<>();
    for (Rule rule : rulebase.rules()) {
      if (rule.isOn()) {
        rules.add(claiming.compiled(rules.size(), rule));
      }
    }
    return new CompiledRulebase(
        rulebase, claiming, rules, places(rules), boxes -> new BoxIndex(boxes, claiming.space()));
  }

  private static Map<String, Integer> places(List<CompiledRule> rules) {
    Map<String, Integer> places = new HashMap<>(rules.size() * 2);
    rules.forEach(rule -> places.put(rule.rule().id(), rule.index()));
    return places;
  }

  /** The same rulebase over finer atoms; only rules that hold something of what was cut change. */
  CompiledRulebase over(Space finer, Refinement refinement) {
    List<CompiledRule> carried = new ArrayList<>(rules);
    IndexSet cut = index.cut(refinement);
    for (int b = cut.next(0); b >= 0; b = cut.next(firstBox[ruleOfBox[b] + 1])) {
      CompiledRule rule = rules.get(ruleOfBox[b]);
      List<Box> boxes = rule.boxes().stream().map(refinement::of).toList();
      carried.set(
          rule.index(), new CompiledRule(rule.index(), rule.rule(), boxes, rule.outcomes()));
    }
    return new CompiledRulebase(
        rulebase,
        new Claiming(finer, names()),
        carried,
        places,
        boxes -> index.over(boxes, finer, refinement));
  }

  /**
   * Another rulebase over the same space.
   *
   * @param kept the ids of rules that claim what they claim here; all others are read
   */
  CompiledRulebase followedBy(Rulebase next, Names nextNames, Set<String> kept) {
    Claiming reading = new Claiming(space(), nextNames);
    List<CompiledRule> following = new ArrayList<>(rules.size() + 1);
    IntStream.Builder origins = IntStream.builder();
    for (Rule rule : next.rules()) {
      if (!rule.isOn()) {
        continue;
      }
      CompiledRule known = kept.contains(rule.id()) ? rules.get(places.get(rule.id())) : null;
      CompiledRule compiled =
          known == null
              ? reading.compiled(following.size(), rule)
              : known.index() == following.size() && known.rule() == rule
                  ? known
                  : new CompiledRule(following.size(), rule, known.boxes(), known.outcomes());
      for (int b = 0; b < compiled.boxes().size(); b++) {
        origins.add(known == null ? -1 : firstBox[known.index()] + b);
      }
      following.add(compiled);
    }
    int[] from = origins.build().toArray();
    return new CompiledRulebase(
        next,
        reading,
        following,
        places(following),
        boxes -> index.rearranged(boxes, space(), from));
  }

  /**
   * Compiles a rulebase.
   *
   * @throws ProblemException if a name in it stands for nothing or a set holds itself
   */
  public static CompiledRulebase of(Rulebase rulebase, Surroundings surroundings) {
    Names names = new Names(rulebase.parts(), surroundings);
    Check.demand(Check.problems(rulebase, names));
    Space space = new Space(List.of(new Space.Scope(rulebase, names)), surroundings);
    return over(space, rulebase, names);
  }

  /**
   * Compiles a rulebase over a space that was made for its rules among others.
   *
   * @param names what its names stand for; must have no problems with it
   */
  public static CompiledRulebase over(Space space, Rulebase rulebase, Names names) {
    return read(rulebase, new Claiming(space, names));
  }

  /** What the names in the rulebase stand for. */
  public Names names() {
    return claiming.names();
  }

  /** What the rulebase says in boxes. */
  public Claiming claiming() {
    return claiming;
  }

  public Rulebase rulebase() {
    return rulebase;
  }

  public Space space() {
    return claiming.space();
  }

  /** The rules that take part, from the top. */
  public List<CompiledRule> rules() {
    return rules;
  }

  /** The rule with this id, if it takes part. */
  public Optional<CompiledRule> rule(String id) {
    return Optional.ofNullable(places.get(id)).map(rules::get);
  }

  /** All boxes of all rules, from the top. */
  public List<Box> boxes() {
    return boxes;
  }

  /** Which rule a box belongs to. */
  public int ruleOfBox(int box) {
    return ruleOfBox[box];
  }

  /** The numbers of the rules that claim something in a box, from the top. */
  public List<Integer> rulesMeeting(Box box) {
    return rulesMeeting(box, rules.size());
  }

  /** The numbers of the rules above one that claim something in a box, from the top. */
  public List<Integer> rulesMeeting(Box box, int below) {
    List<Integer> found = new ArrayList<>();
    IndexSet numbers = index.meeting(box);
    for (int n = numbers.next(0); n >= 0 && n < firstBox[below]; n = numbers.next(n + 1)) {
      int rule = ruleOfBox[n];
      if (found.isEmpty() || found.get(found.size() - 1) != rule) {
        found.add(rule);
      }
    }
    return found;
  }

  /** What happens to the connections of a box; to those of none (−1), the last line. */
  public Outcome outcomeOfBox(int box) {
    return box < 0 ? Outcome.of(rulebase.lastLine()) : outcomes.get(box);
  }

  /** The number of a rule's first box; for one past the last rule, the number of boxes. */
  public int firstBox(int rule) {
    return firstBox[rule];
  }

  public BoxIndex index() {
    return index;
  }

  /** The rule that catches a point, or −1 for the last line. */
  public int firstMatch(int[] point) {
    int box = index.first(point);
    return box < 0 ? -1 : ruleOfBox[box];
  }

  /** What happens to the connections of a point. */
  public Outcome outcome(int[] point) {
    return outcomeOfBox(index.first(point));
  }
}
