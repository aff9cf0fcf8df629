package ironsieve.review;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.Rulebases;
import ironsieve.compile.CompiledRulebase;
import ironsieve.model.Chapter;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import java.util.ArrayList;
import java.util.List;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;

class RemediesTest {

  @Provide
  Arbitrary<Rulebases.Case> cases() {
    return Rulebases.cases(7);
  }

  @Property(tries = 1500)
  void aRemedyReallyEndsItsFinding(@ForAll("cases") Rulebases.Case given) {
    Rulebase rulebase = given.rulebase();
    Review review = review(rulebase, given);
    Remedies remedies = new Remedies(rulebase, review);
    for (Finding finding : review.findings()) {
      if (finding.kind() == Finding.Kind.SHADOWED || finding.kind() == Finding.Kind.EMPTY) {
        assertThat(remedies.of(finding)).hasSize(2);
      }
      for (Remedy remedy : remedies.of(finding)) {
        Review after = review(applied(remedy, rulebase), given);
        assertThat(after.of(finding.rule()))
            .as("%s by %s", finding.kind(), remedy)
            .noneMatch(left -> left.kind() == finding.kind());
      }
    }
  }

  private static Review review(Rulebase rulebase, Rulebases.Case given) {
    return Reviewer.review(
        CompiledRulebase.of(rulebase, given.world().surroundings()), Budget.USUAL);
  }

  private static Rulebase applied(Remedy remedy, Rulebase rulebase) {
    List<Rule> rules = new ArrayList<>(rulebase.rules());
    Rule rule = rulebase.rule(remedy.rule()).orElseThrow();
    int at = rules.indexOf(rule);
    switch (remedy.action()) {
      case REMOVE -> rules.remove(at);
      case SWITCH_OFF ->
          rules.set(at, new Rule(rule.id(), "", Rule.State.OFF, rule.match(), rule.then(), ""));
      case MOVE_ABOVE -> {
        rules.remove(at);
        rules.add(rules.indexOf(rulebase.rule(remedy.target()).orElseThrow()), rule);
      }
    }
    return new Rulebase(
        "t", List.of(new Chapter("c", "All", "", rules)), rulebase.parts(), rulebase.lastLine());
  }
}
