package ironsieve.reach;

import ironsieve.compile.CompiledEdit;
import ironsieve.compile.CompiledRulebase;
import ironsieve.model.Chapter;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import java.util.ArrayList;
import java.util.List;

/** Tells what is asked about from everything else, by rules below all others that name it. */
final class ReachQuery {

  private ReachQuery() {}

  /**
   * A rulebase with some more rules at its end; they catch only what would fall to the default
   * verdict.
   *
   * @throws ironsieve.compile.ProblemException if one of them names something that is not there
   */
  static CompiledRulebase below(CompiledRulebase compiled, List<Rule> asked) {
    Rulebase old = compiled.rulebase();
    List<Chapter> chapters = new ArrayList<>(old.chapters());
    chapters.add(new Chapter("what is asked about", "", "", asked));
    return CompiledEdit.of(
            compiled, new Rulebase(old.name(), chapters, old.parts(), old.defaultVerdict()))
        .after();
  }
}
