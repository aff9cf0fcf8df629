package ironsieve.model;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import ironsieve.model.Lane.Rates;
import ironsieve.text.OutcomeText;
import ironsieve.text.ValueText;
import java.util.List;
import java.util.Optional;
import org.assertj.core.api.ThrowableAssert.ThrowingCallable;
import org.junit.jupiter.api.Test;

/** What cannot be is refused where it is made, with what would be right. */
class PartsTest {

  private static void refused(ThrowingCallable making, String hint) {
    assertThatThrownBy(making)
        .isInstanceOf(IllegalArgumentException.class)
        .hasMessageContaining(hint);
  }

  @Test
  void anOutcomeHasANoticeExactlyIfItShowsOneAndALaneOnlyIfItAllows() {
    Optional<String> none = Optional.empty();
    refused(() -> new Outcome(Verdict.ASK, none, none), "ask needs a notice");
    refused(() -> new Outcome(Verdict.DENY, Optional.of("x"), none), "deny shows no notice");
    refused(() -> new Outcome(Verdict.REJECT, none, Optional.of("Fast")), "only what is allowed");
    assertThat(Verdict.ASK.passes()).isTrue();
    assertThat(Verdict.STOP.passes()).isFalse();
  }

  @Test
  void onlyAPlainAllowCarriesASheet() {
    refused(
        () -> new Rule.Then(OutcomeText.parse("ask X"), Rule.Logging.LOGGED, Optional.of("s")),
        "only an allow carries a usage sheet");
    assertThat(
            new Rule.Then(OutcomeText.parse("allow in Fast"), Rule.Logging.LOGGED, Optional.of("s"))
                .verdict())
        .isEqualTo(Verdict.ALLOW);
  }

  @Test
  void aSheetIsAboutApplicationsEachOnce() {
    Outcome deny = Outcome.of(Verdict.DENY);
    UsageSheet.Line games =
        new UsageSheet.Line(ValueText.parse(ValueKind.APPLICATION, "category games"), deny);
    refused(() -> new UsageSheet("s", List.of(games, games), deny, ""), "two lines");
    UsageSheet.Line zone = new UsageSheet.Line(new Value.ZoneName("Inside"), deny);
    refused(() -> new UsageSheet("s", List.of(zone), deny, ""), "a feature, an application");
    assertThat(games.rank()).isZero();
  }

  @Test
  void aLaneKeepsItsPromisesWithinItsCeilingAndCountsItsClients() {
    Rates slow = new Rates(10, 10);
    Rates fast = new Rates(20, 5);
    refused(() -> new Lane("L", Lane.Scope.RULE, slow, fast, 0, ""), "more than its own ceiling");
    refused(() -> new Lane("L", Lane.Scope.CLIENT, slow, slow, 0, ""), "number of clients");
    refused(() -> new Rates(-1, 0), "0 or more");
    assertThat(slow.times(3).plus(fast)).isEqualTo(new Rates(50, 35));
    assertThat(fast.exceeds(slow)).isTrue();
    assertThat(fast.exceeds(Rates.NONE)).isFalse();
  }

  @Test
  void aDecryptionRuleAsksForNothingLearnedLater() {
    Rule.Match applications =
        Rule.Match.any()
            .with(FieldName.APPLICATIONS, Field.is(ValueText.parse(ValueKind.APPLICATION, "Mail")));
    refused(
        () -> new DecryptionRule("l", applications, DecryptionRule.Decision.DECRYPT, ""),
        "before they are known");
    refused(() -> new Notice("n", Verdict.ALLOW, ""), "asks, stops or enrols");
    refused(
        () -> new Rulebase("r", List.of(), List.of(), Verdict.STOP),
        "the default verdict is allow, deny or reject");
  }
}
