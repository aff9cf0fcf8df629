package ironsieve.review;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.compile.CompiledEdit;
import ironsieve.compile.CompiledRulebase;
import ironsieve.impact.Comparison;
import ironsieve.model.Outcome;
import ironsieve.model.Parts;
import ironsieve.model.Rule;
import ironsieve.model.RuleMetadata;
import ironsieve.model.Rulebase;
import ironsieve.model.UsageSheet;
import ironsieve.model.Verdict;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import org.junit.jupiter.api.Test;

class RemediesTest {

  private static final Set<Finding.Kind> USELESS =
      Set.of(Finding.Kind.SHADOWED, Finding.Kind.EMPTY);

  @Provide
  Arbitrary<Rulebases.Case> cases() {
    return Rulebases.cases(7);
  }

  @Property(tries = 2500)
  void aRemedyReallyEndsItsFinding(@ForAll("cases") Rulebases.Case given) {
    Rulebase rulebase = given.rulebase();
    Review review = review(rulebase, given);
    Remedies remedies =
        new Remedies(CompiledRulebase.of(rulebase, given.world().environment()), review);
    for (Finding finding : review.findings()) {
      if (finding.kind() == Finding.Kind.SHADOWED) {
        assertThat(remedies.of(finding)).isNotEmpty();
      }
      if (finding.kind() == Finding.Kind.EMPTY) {
        assertThat(remedies.of(finding)).hasSize(2);
      }
      for (Remedy remedy : remedies.of(finding)) {
        Rulebase remedied = Edit.apply(rulebase, remedy.edit());
        Review after = review(remedied, given);
        assertThat(saidToBeUseless(review, remedied))
            .as("what else %s does", remedy)
            .containsExactlyInAnyOrderElementsOf(
                remedied.rules().stream()
                    .map(Rule::id)
                    .filter(rule -> isUseless(after, rule) && !isUseless(review, rule))
                    .toList());
        assertThat(after.of(finding.rule()))
            .as("%s by %s", finding.kind(), remedy)
            .noneMatch(left -> left.kind() == finding.kind());
        if (remedy.words().startsWith("Narrow")) {
          assertThat(
                  Comparison.between(
                          rulebase,
                          Edit.apply(rulebase, remedy.edit()),
                          given.world().environment(),
                          100_000)
                      .kinds())
              .isEmpty();
        }
      }
    }
  }

  /** The rules of which the aftermath of an edit says that nothing reaches them any more. */
  private static Set<String> saidToBeUseless(Review before, Rulebase after) {
    return Aftermath.of(before, CompiledEdit.of(before.compiled(), after)).begun().stream()
        .filter(notice -> USELESS.contains(notice.kind()))
        .map(Aftermath.Notice::rule)
        .filter(rule -> !isUseless(before, rule))
        .collect(Collectors.toSet());
  }

  private static boolean isUseless(Review review, String rule) {
    return review.of(rule).stream().anyMatch(finding -> USELESS.contains(finding.kind()));
  }

  @Test
  void aRuleOfWhichOnlySomeValuesAreTakenIsSplit() {
    Rulebase rulebase =
        Rulebases.of("deny from.people=ada", "allow from.people=ada|ben using.applications=Mail");
    CompiledRulebase compiled = CompiledRulebase.of(rulebase, SmallWorld.environment());
    Review review = Reviewer.review(compiled, Budget.USUAL);
    Finding finding = review.of("r2").get(0);
    assertThat(finding.kind()).isEqualTo(Finding.Kind.PARTLY_SHADOWED);
    Remedy split =
        new Remedies(compiled, review)
            .of(finding).stream()
                .filter(remedy -> remedy.edit() instanceof Edit.Split)
                .findFirst()
                .orElseThrow();
    assertThat(split.words()).isEqualTo("Split it: person ada above rule 1");
    assertThat(Edit.apply(rulebase, split.edit()).rules().stream().map(Rule::id))
        .containsExactly("r2-part", "r1", "r2");
  }

  /** Without the rule what it is to stop would still be let through. */
  @Test
  void aBlockWhosePartIsLetThroughAboveIsMovedAndNotRemoved() {
    Rulebase rulebase =
        Rulebases.of(
            "allow from.people=ada using.applications=Mail",
            "deny from.zones=Inside",
            "deny from.people=ada from.zones=Inside using.applications=Mail");
    CompiledRulebase compiled = CompiledRulebase.of(rulebase, SmallWorld.environment());
    Review review = Reviewer.review(compiled, Budget.USUAL);
    Finding finding = review.of("r3").get(0);
    assertThat(finding.kind()).isEqualTo(Finding.Kind.SHADOWED);
    assertThat(finding.evidence().get(0).rule()).isEqualTo("r1");
    assertThat(new Remedies(compiled, review).of(finding))
        .extracting(Remedy::words)
        .containsExactly("Move it above rule 1");
  }

  @Test
  void aSheetIsOfferedOnlyIfItStopsSomethingThere() {
    Rulebase rulebase = Rulebases.of("allow from.zones=Inside to.zones=Outside");
    UsageSheet idle = new UsageSheet("Idle", List.of(), Outcome.of(Verdict.ALLOW), "");
    UsageSheet strict = new UsageSheet("Strict", List.of(), Outcome.of(Verdict.DENY), "");
    assertThat(sheetsOffered(rulebase, idle)).isEmpty();
    assertThat(sheetsOffered(rulebase, idle, strict)).containsExactly("Lay sheet Strict under it");
  }

  private static List<String> sheetsOffered(Rulebase rulebase, UsageSheet... sheets) {
    Parts own = rulebase.parts();
    Parts parts =
        new Parts(
            own.sets(),
            List.of(sheets),
            own.notices(),
            own.lanes(),
            own.decryption(),
            own.capacity());
    Rulebase with =
        new Rulebase(rulebase.name(), rulebase.chapters(), parts, rulebase.defaultVerdict());
    CompiledRulebase compiled = CompiledRulebase.of(with, SmallWorld.environment());
    Review review = Reviewer.review(compiled, Budget.USUAL);
    Finding finding =
        review.of("r1").stream()
            .filter(one -> one.kind() == Finding.Kind.NO_LIMITS)
            .findFirst()
            .orElseThrow();
    return new Remedies(compiled, review).of(finding).stream().map(Remedy::words).toList();
  }

  @Test
  void aRuleThatAnotherHoldsIsMergedIntoItWithWhatWasWrittenDown() {
    Rulebase plain =
        Rulebases.of(
            "allow from.people=ada|ben", "deny using.applications=Mail", "allow from.people=ada");
    Rulebase rulebase =
        Edit.apply(
            plain,
            new Edit.Replace(
                kept(
                    plain.rules().get(2),
                    new RuleMetadata("For the audit.", "net", "4711", day("2027-03-01")))));
    rulebase =
        Edit.apply(
            rulebase,
            new Edit.Replace(
                kept(
                    plain.rules().get(0),
                    new RuleMetadata("Office mail.", "", "4600", Optional.empty()))));
    CompiledRulebase compiled = CompiledRulebase.of(rulebase, SmallWorld.environment());
    Review review = Reviewer.review(compiled, Budget.USUAL);
    Finding finding = review.of("r3").get(0);
    assertThat(finding.kind()).isEqualTo(Finding.Kind.REDUNDANT);
    Remedy merge = new Remedies(compiled, review).of(finding).get(0);
    assertThat(merge.words()).isEqualTo("Merge it into rule 1, which keeps its notes");
    Rulebase after = Edit.apply(rulebase, merge.edit());
    assertThat(after.rules().stream().map(Rule::id)).containsExactly("r1", "r2");
    assertThat(after.rules().get(0).metadata())
        .isEqualTo(
            new RuleMetadata(
                "Office mail. From r3: For the audit.", "net", "4600, 4711", day("2027-03-01")));
    assertThat(Comparison.between(rulebase, after, SmallWorld.environment(), 100_000).kinds())
        .isEmpty();
  }

  private static Optional<LocalDate> day(String text) {
    return Optional.of(LocalDate.parse(text));
  }

  private static Rule kept(Rule rule, RuleMetadata metadata) {
    return new Rule(rule.id(), rule.name(), rule.state(), rule.match(), rule.then(), metadata);
  }

  private static Review review(Rulebase rulebase, Rulebases.Case given) {
    return Reviewer.review(
        CompiledRulebase.of(rulebase, given.world().environment()), Budget.USUAL);
  }
}
