package ironsieve.compile;

import ironsieve.model.Outcome;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Surroundings;
import ironsieve.region.Box;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A rulebase read against its surroundings: the rules that take part, each with its claim over
 * shared atoms, and an index from points and boxes to rules. Immutable; decisions, review and
 * impact all start here.
 */
public final class CompiledRulebase {

  private final Rulebase rulebase;
  private final Space space;
  private final Names names;
  private final Claiming claiming;
  private final List<CompiledRule> rules;
  private final Map<String, CompiledRule> byId = new HashMap<>();
  private final List<Box> boxes = new ArrayList<>();
  private final List<Outcome> outcomes = new ArrayList<>();
  private final int[] ruleOfBox;
  private final int[] firstBox;
  private final BoxIndex index;

  private CompiledRulebase(Rulebase rulebase, Names names, Space space) {
    this.names = names;
    this.rulebase = rulebase;
    this.space = space;
    claiming = new Claiming(space, names);
    List<CompiledRule> compiled = new ArrayList<>();
    List<Integer> owners = new ArrayList<>();
    List<Rule> on = rulebase.rules().stream().filter(Rule::isOn).toList();
    firstBox = new int[on.size() + 1];
    for (Rule rule : on) {
      List<Claiming.Piece> pieces = claiming.pieces(rule);
      CompiledRule next =
          new CompiledRule(
              compiled.size(),
              rule,
              pieces.stream().map(Claiming.Piece::box).toList(),
              pieces.stream().map(Claiming.Piece::outcome).toList());
      firstBox[next.index()] = boxes.size();
      compiled.add(next);
      byId.put(rule.id(), next);
      outcomes.addAll(next.outcomes());
      next.boxes()
          .forEach(
              box -> {
                boxes.add(box);
                owners.add(next.index());
              });
    }
    firstBox[on.size()] = boxes.size();
    rules = List.copyOf(compiled);
    ruleOfBox = owners.stream().mapToInt(Integer::intValue).toArray();
    index = new BoxIndex(boxes, space);
  }

  /**
   * Compiles a rulebase.
   *
   * @throws ProblemException if a name in it stands for nothing or a set holds itself
   */
  public static CompiledRulebase of(Rulebase rulebase, Surroundings surroundings) {
    Names names = new Names(rulebase.parts(), surroundings);
    List<Problem> problems = Check.problems(rulebase, names);
    if (!problems.isEmpty()) {
      throw new ProblemException(problems);
    }
    Space space = new Space(List.of(new Space.Scope(rulebase, names)), surroundings);
    return new CompiledRulebase(rulebase, names, space);
  }

  /**
   * Compiles a rulebase over a space that was made for its rules among others.
   *
   * @param names what its names stand for; must have no problems with it
   */
  public static CompiledRulebase over(Space space, Rulebase rulebase, Names names) {
    return new CompiledRulebase(rulebase, names, space);
  }

  /** What the names in the rulebase stand for. */
  public Names names() {
    return names;
  }

  /** What the rulebase says in boxes. */
  public Claiming claiming() {
    return claiming;
  }

  public Rulebase rulebase() {
    return rulebase;
  }

  public Space space() {
    return space;
  }

  /** The rules that take part, from the top. */
  public List<CompiledRule> rules() {
    return rules;
  }

  /** The rule with this id, if it takes part. */
  public Optional<CompiledRule> rule(String id) {
    return Optional.ofNullable(byId.get(id));
  }

  /** All boxes of all rules, from the top. */
  public List<Box> boxes() {
    return boxes;
  }

  /** Which rule a box belongs to. */
  public int ruleOfBox(int box) {
    return ruleOfBox[box];
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
