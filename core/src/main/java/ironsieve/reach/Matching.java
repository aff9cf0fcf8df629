package ironsieve.reach;

import ironsieve.compile.BoxPropagation;
import ironsieve.compile.CompiledRule;
import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.Space;
import ironsieve.model.Rule;
import ironsieve.model.Verdict;
import ironsieve.region.Box;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;

/** Which rules can match some connections at all, whether or not rules above leave them any. */
public final class Matching {

  private static final String ASKED = "what is asked about";

  private Matching() {}

  /** As many pieces are looked at before it is only said what was found so far. */
  private static final int MOST_PIECES = 50_000;

  /**
   * What rules have to do with some connections.
   *
   * @param can the ids of those that match some of them at all, from the top
   * @param get those of them that catch some, from the top
   * @param defaultVerdict whether some fall to the default verdict
   * @param isComplete whether everything was looked at; if not, more rules may get some
   */
  public record Answer(
      Set<String> can, Set<String> get, boolean defaultVerdict, boolean isComplete) {

    /** Whether one rule, or the default verdict, catches all of them. */
    public boolean isOne() {
      return isComplete && get.size() + (defaultVerdict ? 1 : 0) == 1;
    }
  }

  /**
   * Which rules can match some of what a match does from today on, and which of them really catch
   * some of it.
   *
   * @throws ironsieve.compile.ProblemException if the match names something that is not there
   */
  public static Answer answer(CompiledRulebase compiled, Rule.Match match) {
    CompiledRulebase more = with(compiled, match);
    Set<String> can = new LinkedHashSet<>();
    TreeSet<Integer> catching = new TreeSet<>();
    boolean[] last = {false};
    int[] pieces = {0};
    boolean complete = true;
    int asked = more.rule(ASKED).map(CompiledRule::index).orElse(-1);
    for (Box part : ahead(more)) {
      more.rulesMeeting(part).forEach(rule -> can.add(more.rules().get(rule).rule().id()));
      complete &=
          BoxPropagation.through(
              more,
              part,
              (piece, n) -> {
                int rule = n < 0 ? asked : more.ruleOfBox(n);
                last[0] |= rule == asked;
                if (rule != asked) {
                  catching.add(rule);
                }
                return ++pieces[0] < MOST_PIECES;
              });
    }
    can.remove(ASKED);
    Set<String> get = new LinkedHashSet<>();
    catching.forEach(rule -> get.add(more.rules().get(rule).rule().id()));
    return new Answer(inOrder(more, can), get, last[0], complete);
  }

  /**
   * How much of what a match asks for the gateway could see, from today on.
   *
   * @param share of it that is seen, 0 … 1, each IP version for itself; 0 if there is none of it
   * @param some whether any of it is seen
   * @param all whether there is some and all of it is seen
   */
  public record Sight(double share, boolean some, boolean all) {}

  /**
   * How much of a match that tells features apart is seen: where content stays encrypted, no
   * feature is.
   *
   * @throws ironsieve.compile.ProblemException if the match names something that is not there
   */
  public static Sight sight(CompiledRulebase compiled, Rule.Match match) {
    CompiledRulebase more = with(compiled, match);
    Space space = more.space();
    double clear = space.weight(ahead(more));
    double hidden = space.weight(space.ahead(more.matchCompiler().unseen(match)));
    double all = clear + hidden;
    return new Sight(all == 0 ? 0 : clear / all, clear > 0, clear > 0 && hidden == 0);
  }

  private static Set<String> inOrder(CompiledRulebase compiled, Set<String> ids) {
    Set<String> ordered = new LinkedHashSet<>();
    compiled.rules().stream()
        .map(rule -> rule.rule().id())
        .filter(ids::contains)
        .forEach(ordered::add);
    return ordered;
  }

  /**
   * The ids of the rules that take part and claim some of what a match does from today on, from the
   * top.
   *
   * @throws ironsieve.compile.ProblemException if the match names something that is not there
   */
  public static Set<String> rules(CompiledRulebase compiled, Rule.Match match) {
    CompiledRulebase more = with(compiled, match);
    Set<String> met = new LinkedHashSet<>();
    for (Box part : ahead(more)) {
      more.rulesMeeting(part).forEach(rule -> met.add(more.rules().get(rule).rule().id()));
    }
    met.remove(ASKED);
    return met;
  }

  /** What is asked about, from today on, in a rulebase with a rule that claims it. */
  private static List<Box> ahead(CompiledRulebase more) {
    return more.space().ahead(more.rule(ASKED).map(CompiledRule::boxes).orElse(List.of()));
  }

  /** The rulebase with a rule below all others that claims what is asked about. */
  private static CompiledRulebase with(CompiledRulebase compiled, Rule.Match match) {
    Rule asked =
        new Rule(
            ASKED,
            "",
            Rule.State.ON,
            match,
            new Rule.Then(Verdict.DENY, Rule.Logging.NOT_LOGGED),
            "");
    return ReachQuery.below(compiled, List.of(asked));
  }
}
