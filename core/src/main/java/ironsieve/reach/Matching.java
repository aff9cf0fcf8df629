package ironsieve.reach;

import ironsieve.compile.CompiledRule;
import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.Following;
import ironsieve.model.Chapter;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Verdict;
import ironsieve.region.Box;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Which rules can match some connections at all, whether or not rules above leave them any. */
public final class Matching {

  private static final String ASKED = "what is asked about";

  private Matching() {}

  /**
   * The ids of the rules that take part and claim some of what a match does from today on, from the
   * top.
   *
   * @throws ironsieve.compile.ProblemException if the match names something that is not there
   */
  public static Set<String> rules(CompiledRulebase compiled, Rule.Match match) {
    Rule asked =
        new Rule(
            ASKED, "", Rule.State.ON, match, new Rule.Then(Verdict.DENY, Rule.Logging.QUIET), "");
    Rulebase rulebase = compiled.rulebase();
    List<Chapter> chapters = new ArrayList<>(rulebase.chapters());
    chapters.add(new Chapter(ASKED, "", "", List.of(asked)));
    CompiledRulebase more =
        Following.of(
                compiled,
                new Rulebase(rulebase.name(), chapters, rulebase.parts(), rulebase.lastLine()))
            .after();
    Set<String> met = new LinkedHashSet<>();
    Optional<CompiledRule> last = more.rule(ASKED);
    for (Box box : last.map(CompiledRule::boxes).orElse(List.of())) {
      for (Box ahead : more.space().ahead()) {
        more.rulesMeeting(box.intersect(ahead))
            .forEach(rule -> met.add(more.rules().get(rule).rule().id()));
      }
    }
    met.remove(ASKED);
    return met;
  }
}
