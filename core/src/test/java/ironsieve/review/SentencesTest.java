package ironsieve.review;

import static ironsieve.review.Spoken.words;
import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.compile.CompiledRulebase;
import ironsieve.model.FieldName;
import ironsieve.model.Rulebase;
import ironsieve.review.Finding.Kind;
import ironsieve.review.Finding.Severity;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What the review says, on small rulebases written for it. */
class SentencesTest {

  private static Review review(String... rules) {
    return Reviewer.review(
        CompiledRulebase.of(Rulebases.of(rules), SmallWorld.environment()), Budget.USUAL);
  }

  /** The findings about who takes from whom; what good practice has to say is tested elsewhere. */
  private static List<Finding> aboutTakers(Review review, String rule) {
    return review.of(rule).stream()
        .filter(f -> f.kind().compareTo(Kind.EXCEPTION) <= 0 || f.kind() == Kind.UNDETERMINED)
        .filter(f -> !words(f).contains("passes before it decides"))
        .toList();
  }

  private static Finding only(Review review, String rule) {
    List<Finding> found = aboutTakers(review, rule);
    assertThat(found).hasSize(1);
    return found.get(0);
  }

  @Test
  void aBlockBelowTheAllowItShouldPrecedeIsShadowed() {
    Finding finding =
        only(
            review(
                "allow from.people=group crew using.applications=Mail",
                "deny from.people=group deck using.applications=Mail/send"),
            "r2");
    assertThat(finding.kind()).isEqualTo(Kind.SHADOWED);
    assertThat(finding.severity()).isEqualTo(Severity.ERROR);
    assertThat(words(finding))
        .isEqualTo("This rule never matches: rule 1 matches all of its connections first.");
    assertThat(finding.evidence().get(0).witness().connection().from().person()).contains("ben");
  }

  /** Shares of parts that are added up miss the whole by a rounding; what is said must not. */
  @Test
  void whatIsAllOfARuleIsSaidToBeAllHoweverManyPartsItHas() {
    StringBuilder services = new StringBuilder("using.services=tcp/1");
    for (int port = 3; port < 60; port += 2) {
      services.append("|tcp/").append(port);
      Finding finding =
          only(
              review(
                  "reject from.people=group crew",
                  "allow from.people=group deck|ada from.zones=Inside " + services),
              "r2");
      assertThat(finding.evidence().get(0).otherwise()).as("to " + port).contains(Share.WHOLE);
    }
  }

  @Test
  void aRuleCoveredByThreeTogetherNamesAllThree() {
    Finding finding =
        only(
            review(
                "allow from.people=ada",
                "allow from.people=ben",
                "allow from.people=cy",
                "deny from.people=identified"),
            "r4");
    assertThat(words(finding)).contains("rules 1, 2 and 3 together match all");
    assertThat(finding.evidence())
        .extracting(Finding.Evidence::part)
        .containsExactly("person ada", "person ben", "person cy");
  }

  @Test
  void aDuplicateOfADecisionIsRedundant() {
    Finding finding =
        only(
            review(
                "allow from.people=ada",
                "allow from.zones=Inside",
                "allow from.zones=Inside using.applications=Chat"),
            "r3");
    assertThat(finding.kind()).isEqualTo(Kind.REDUNDANT);
    assertThat(words(finding)).contains("already get the same verdict from rule 2");
  }

  /** Whoever reads that all is denied already must not find it allowed further up. */
  @Test
  void aDenyBelowADenyOfEverythingIsShadowedWhereAnAllowTakesSomeOfIt() {
    Finding finding =
        only(
            review(
                "allow from.people=ada using.applications=Mail",
                "deny",
                "deny from.people=ada|ben using.applications=Mail"),
            "r3");
    assertThat(finding.kind()).isEqualTo(Kind.SHADOWED);
    assertThat(words(finding))
        .isEqualTo(
            "This rule never matches: rule 2 matches all of its connections first. 50 % of what"
                + " this rule matches gets another verdict, from rule 1; the rest gets the same"
                + " verdict already.");
    assertThat(finding.evidence())
        .extracting(one -> one.rule() + one.otherwise().map(Words::percent).orElse(""))
        .containsExactly("r150 %", "r2");
  }

  @Test
  void anExceptionIsNormalAndSaidQuietly() {
    Review review = review("deny from.people=ada", "allow from.zones=Inside|Outside");
    assertThat(aboutTakers(review, "r2"))
        .extracting(Finding::kind)
        .containsExactlyInAnyOrder(Kind.PARTLY_SHADOWED, Kind.EXCEPTION);
    assertThat(aboutTakers(review, "r2"))
        .extracting(Finding::severity)
        .containsOnly(Severity.QUIET);
  }

  @Test
  void anOverlapThatIsNoExceptionIsAWarningWithItsPartAndShare() {
    Finding finding = review("deny from.people=ada", "allow using.services=udp").of("r2").get(0);
    assertThat(finding.severity()).isEqualTo(Severity.WARNING);
    assertThat(words(finding)).startsWith("25 % of what this rule matches");
    assertThat(finding.evidence().get(0).part()).isEqualTo("person ada");
  }

  @ParameterizedTest
  @CsvSource({
    "from.people=group nobody, PEOPLE, group nobody has no members",
    "when.times=..2026-11-22, TIMES, its time ended on 2026-11-22",
    "from.networks=192.0.2.1 from.zones=Inside, FROM_ZONES, have no connection in common",
    "from.networks=10.0.0.1 to.networks=2001:db8:1::/48, FROM_NETWORKS, have no connection in common",
    "using.services=icmpv6 from.networks=10.0.0.1, FROM_NETWORKS, have no connection in common",
    "from.zones=!Inside|Outside, FROM_ZONES, stands for nothing"
  })
  void anEmptyRuleSaysWhichFieldsClash(String fields, FieldName first, String words) {
    Finding finding = only(review("allow " + fields), "r1");
    assertThat(finding.kind()).isEqualTo(Kind.EMPTY);
    assertThat(finding.fields()).contains(first);
    assertThat(words(finding)).contains(words);
  }

  @Test
  void aRuleThatTheDefaultVerdictWouldDecideTheSameIsANote() {
    Finding finding = only(review("deny from.people=ada"), "r1");
    assertThat(finding.severity()).isEqualTo(Severity.NOTE);
    assertThat(words(finding)).contains("below it, the default verdict would decide the same");
  }

  @Test
  void rulesThatAreOffTakeNoPartButKeepTheirNumber() {
    Rulebase base = Rulebases.of("deny from.people=ada", "allow", "deny from.people=ben");
    Review review =
        Reviewer.review(CompiledRulebase.of(base, SmallWorld.environment()), Budget.USUAL);
    assertThat(words(aboutTakers(review, "r3").get(0))).contains("rule 2 matches");
    assertThat(review.residues()).containsOnlyKeys("r1", "r2", "r3");
  }

  @ParameterizedTest
  @CsvSource({
    "0.25, EXACT, 25 %",
    "0.9999, EXACT, over 99.9 %",
    "0.0000001, EXACT, under 0.1 %",
    "0.123, EXACT, 12.3 %",
    "0.5, ESTIMATED, about 50 %",
    "0, EXACT, 0 %",
    "1, EXACT, 100 %"
  })
  void aPercentageNeverRoundsSomethingToNothingOrToAll(
      double value, Share.Certainty certainty, String text) {
    assertThat(Words.percent(new Share(value, certainty))).isEqualTo(text);
  }
}
