package ironsieve.review;

import static ironsieve.review.Spoken.words;
import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.compile.CompiledRulebase;
import ironsieve.decide.Decider;
import ironsieve.impact.Comparison;
import ironsieve.impact.Impact;
import ironsieve.model.Application;
import ironsieve.model.Catalogue;
import ironsieve.model.Chapter;
import ironsieve.model.Directory;
import ironsieve.model.Environment;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Lane;
import ironsieve.model.Parts;
import ironsieve.model.Rule;
import ironsieve.model.RuleMetadata;
import ironsieve.model.Rulebase;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.model.Verdict;
import ironsieve.model.Zone;
import ironsieve.region.Address;
import ironsieve.review.Finding.Kind;
import ironsieve.text.ValueText;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;

/** What the review says of needs, of being locked out and of lanes, on a gateway with resolvers. */
class PolicyChecksTest {

  private static final LocalDate TODAY = SmallWorld.environment().today();

  private static Application app(String name, List<String> needs, String... ports) {
    return new Application(
        name,
        new Application.Grouping("office", "", ""),
        new Application.Worth(Application.Exposure.SLIGHT, Application.WorkValue.CORE),
        List.of(),
        new Application.Wiring(
            Application.Content.PLAIN,
            List.of(ports).stream()
                .map(p -> (Value.ServiceRange) ValueText.parse(ValueKind.SERVICE, p))
                .toList(),
            List.of(),
            needs),
        "");
  }

  private static Zone zone(String name, Zone.Side side, String... networks) {
    return new Zone(
        name,
        side,
        List.of(networks).stream()
            .map(n -> ((Value.Network) ValueText.parse(ValueKind.NETWORK, n)).range())
            .toList(),
        "");
  }

  private static final Environment HERE =
      new Environment(
          List.of(
              zone("Desks", Zone.Side.INSIDE, "10.1.0.0/16"),
              zone("Racks", Zone.Side.INSIDE, "10.2.0.0/16"),
              zone("World", Zone.Side.OUTSIDE),
              zone("Gateway", Zone.Side.GATEWAY, "10.0.0.1")),
          new Directory(
              List.of(new Directory.Person("ada", "Ada", Set.of("crew"), Map.of())),
              List.of(new Directory.Group("crew", Set.of(), ""))),
          List.of(),
          new Catalogue(
              1,
              List.of(
                  app("DNS", List.of(), "udp/53", "tcp/53"),
                  app("Base", List.of("DNS"), "tcp/443"),
                  app("Paper", List.of("Base"), "tcp/443"))),
          LocalDate.of(2026, 11, 23));

  private static Rulebase rulebase(Parts parts, String... rules) {
    List<Rule> all = new ArrayList<>();
    for (String text : rules) {
      Rule rule = Rulebases.rule(text.replaceAll(" \\+.*", ""));
      boolean usual = text.endsWith("+usual");
      all.add(
          new Rule(
              "r" + (all.size() + 1),
              "",
              Rule.State.ON,
              new Rule.Match(rule.match().fields(), usual ? Rule.Ports.USUAL : Rule.Ports.ANY),
              new Rule.Then(rule.then().outcome(), Rule.Logging.LOGGED, Optional.empty()),
              "noted"));
    }
    return new Rulebase("t", List.of(new Chapter("c", "All", "", all)), parts, Verdict.DENY);
  }

  private static List<Finding> findings(Kind kind, Parts parts, String... rules) {
    CompiledRulebase compiled = CompiledRulebase.of(rulebase(parts, rules), HERE);
    return Reviewer.review(compiled, Budget.USUAL).findings().stream()
        .filter(finding -> finding.kind() == kind)
        .toList();
  }

  private static List<Finding> findings(Kind kind, String... rules) {
    return findings(kind, Parts.of(List.of()), rules);
  }

  @Test
  void aForgottenBaseApplicationIsFoundWithAConnectionThatIsStopped() {
    List<Finding> found =
        findings(
            Kind.MISSING_DEPENDENCY,
            "allow from.zones=Desks to.zones=Racks using.applications=DNS",
            "allow from.zones=Desks to.zones=World using.applications=Paper");
    assertThat(found).hasSize(1);
    assertThat(found.get(0).rule()).isEqualTo("r2");
    assertThat(words(found.get(0))).startsWith("Paper needs Base, which is not let through");
    Witness witness = found.get(0).evidence().get(0).witness();
    assertThat(witness.connection().using().application()).contains("Base");
    assertThat(witness.caughtBy()).isEmpty();
  }

  @Test
  void whatIsNeededMayBeAllowedByAnyRuleButForAllThePeopleAndPlaces() {
    String dns = "allow from.zones=Desks to.zones=Racks using.applications=DNS";
    String paper = "allow from.zones=Desks to.zones=World using.applications=Paper";
    assertThat(
            findings(
                Kind.MISSING_DEPENDENCY,
                dns,
                paper,
                "allow from.zones=Desks to.zones=World using.services=tcp/443"))
        .isEmpty();
    assertThat(
            findings(
                Kind.MISSING_DEPENDENCY,
                dns,
                paper,
                "allow from.people=group crew from.zones=Desks to.zones=World"
                    + " using.services=tcp/443"))
        .extracting(Finding::rule)
        .containsExactly("r2");
  }

  @Test
  void namesNeedOnlyBeResolvedSomewhereAndNotWhereTheResolversAre() {
    String base = "allow from.zones=Desks|Racks to.zones=World using.applications=Base";
    List<Finding> found = findings(Kind.MISSING_DEPENDENCY, base);
    assertThat(words(found.get(0))).startsWith("Base needs DNS");
    assertThat(
            findings(
                Kind.MISSING_DEPENDENCY,
                base,
                "allow from.zones=Desks to.networks=10.2.0.53 using.applications=DNS +usual"))
        .isEmpty();
  }

  @Test
  void theRemedyForAnUnmetNeedAllowsIt() {
    Rulebase before =
        rulebase(
            Parts.of(List.of()),
            "allow from.zones=Desks to.zones=Racks using.applications=DNS",
            "allow from.zones=Desks to.zones=World using.applications=Paper");
    Review review = Reviewer.review(CompiledRulebase.of(before, HERE), Budget.USUAL);
    Finding finding =
        review.of("r2").stream()
            .filter(f -> f.kind() == Kind.MISSING_DEPENDENCY)
            .findFirst()
            .orElseThrow();
    Remedy remedy = new Remedies(CompiledRulebase.of(before, HERE), review).of(finding).get(0);
    assertThat(remedy.words()).isEqualTo("Allow Base too");
    Rulebase after = Edit.apply(before, remedy.edit());
    assertThat(Reviewer.review(CompiledRulebase.of(after, HERE), Budget.USUAL).findings())
        .noneMatch(f -> f.kind() == Kind.MISSING_DEPENDENCY);
  }

  @Test
  void whatIsNeededIsAllowedAboveWhatStopsIt() {
    Rulebase before =
        rulebase(
            Parts.of(List.of()),
            "allow from.zones=Desks to.zones=Racks using.applications=DNS",
            "deny using.services=tcp",
            "allow from.zones=Desks to.zones=World using.applications=Paper");
    CompiledRulebase compiled = CompiledRulebase.of(before, HERE);
    Review review = Reviewer.review(compiled, Budget.USUAL);
    List<Finding> unmet =
        review.of("r3").stream().filter(f -> f.kind() == Kind.MISSING_DEPENDENCY).toList();
    for (Finding finding : unmet) {
      List<Remedy> remedies = new Remedies(compiled, review).of(finding);
      assertThat(remedies).extracting(Remedy::words).allMatch(w -> w.endsWith(", above rule 2"));
      Rulebase after = Edit.apply(before, remedies.get(0).edit());
      assertThat(
              Reviewer.review(CompiledRulebase.of(after, HERE), Budget.USUAL).of("r3").stream()
                  .map(Finding::kind))
          .doesNotContain(Kind.MISSING_DEPENDENCY);
    }
    assertThat(unmet).isNotEmpty();
  }

  @Test
  void aBackupIsForTheGatewayAlone() {
    Rulebase before = rulebase(Parts.of(List.of()), "allow from.people=ada", "deny to.zones=World");
    CompiledRulebase compiled = CompiledRulebase.of(before, HERE);
    Review review = Reviewer.review(compiled, Budget.USUAL);
    Finding finding =
        review.findings().stream().filter(f -> f.kind() == Kind.LOCK_OUT).findFirst().orElseThrow();
    Remedy backup = new Remedies(compiled, review).of(finding).get(0);
    assertThat(backup.words()).endsWith("to the gateway only");
    Rule added = ((Edit.InsertAbove) backup.edit()).rule();
    assertThat(added.match().field(FieldName.TO_ZONES))
        .contains(Field.is(new Value.ZoneName("Gateway")));
    assertThat(added.match().field(FieldName.SERVICES)).isPresent();
    List<Impact.Kind> changed =
        Comparison.between(before, Edit.apply(before, backup.edit()), HERE, 100_000).kinds();
    assertThat(changed)
        .isNotEmpty()
        .allSatisfy(
            kind -> assertThat(kind.witness().to().address()).isEqualTo(Address.parse("10.0.0.1")));
  }

  @Test
  void administrationByIdentityAloneIsALockOutUntilThereIsABackup() {
    String byGroup =
        "allow from.zones=Desks from.people=group crew to.zones=Gateway using.services=tcp/22";
    List<Finding> found = findings(Kind.LOCK_OUT, byGroup);
    assertThat(found).extracting(Finding::rule).containsExactly("r1");
    assertThat(words(found.get(0))).contains("hangs on identities alone");
    assertThat(found.get(0).evidence().get(0).witness().connection().from().person())
        .contains("ada");
    Rulebase before = rulebase(Parts.of(List.of()), byGroup);
    Review review = Reviewer.review(CompiledRulebase.of(before, HERE), Budget.USUAL);
    Remedy backup = new Remedies(CompiledRulebase.of(before, HERE), review).of(found.get(0)).get(0);
    CompiledRulebase after = CompiledRulebase.of(Edit.apply(before, backup.edit()), HERE);
    assertThat(Reviewer.review(after, Budget.USUAL).findings())
        .noneMatch(f -> f.kind() == Kind.LOCK_OUT);
    List<Finding> none = findings(Kind.LOCK_OUT, "deny to.zones=Gateway");
    assertThat(words(none.get(0))).startsWith("No rule lets anybody");
  }

  @Test
  void guaranteesAreHeldAgainstTheLinkFromTheTop() {
    Lane calls = lane("Calls", Lane.Scope.CLIENT, 100, 6);
    Lane each = lane("Each", Lane.Scope.RULE, 300, 0);
    Lane all = lane("All", Lane.Scope.GATEWAY, 500, 0);
    Parts parts =
        new Parts(
            List.of(),
            List.of(),
            List.of(),
            List.of(calls, each, all),
            List.of(),
            new Lane.Rates(1500, 0));
    String[] rules = {
      "allow in All from.zones=Desks",
      "allow in Each from.zones=Racks to.zones=Desks",
      "allow in All from.zones=Racks to.zones=World",
      "allow in Each from.people=ada",
      "allow in Calls from.zones=World",
      "allow in Calls from.zones=Racks"
    };
    // 500 + 300 + nothing more + 300, and then 6 × 100 are 200 too many.
    List<Finding> found = findings(Kind.OVERPROMISED, parts, rules);
    assertThat(found).extracting(Finding::rule).containsExactly("r5");
    assertThat(words(found.get(0)))
        .isEqualTo(
            "With this rule, lanes guarantee 1700 kbit/s up and 1700 kbit/s down; the link carries 1500 kbit/s up and no known limit down.");
  }

  private static Lane lane(String name, Lane.Scope scope, long rate, int clients) {
    return new Lane(name, scope, Lane.Rates.NONE, new Lane.Rates(rate, rate), clients, "");
  }

  @Test
  void everyWitnessOfGoodPracticeIsCaughtByTheRuleItNames() {
    Rulebase rulebase =
        rulebase(
            Parts.of(List.of()),
            "allow to.zones=World using.applications=Paper",
            "deny using.applications=Base",
            "allow from.zones=Desks",
            "allow from.people=ada using.services=udp");
    CompiledRulebase compiled = CompiledRulebase.of(rulebase, HERE);
    Review review = Reviewer.review(compiled, Budget.USUAL);
    assertThat(review.findings())
        .extracting(Finding::kind)
        .contains(Kind.MISSING_DEPENDENCY, Kind.LEAKS_FIRST, Kind.NO_LIMITS, Kind.TOO_WIDE);
    for (Finding finding : review.findings()) {
      for (Finding.Evidence evidence : finding.evidence()) {
        assertThat(new Decider(compiled).decide(evidence.witness().connection()).map(Rule::id))
            .isEqualTo(evidence.witness().caughtBy());
      }
    }
  }

  @Test
  void aRulePastItsDayIsFoundWithItsOwner() {
    Rule rule = Rulebases.of("allow from.people=group crew").rules().get(0);
    List<Finding> found = new ArrayList<>();
    for (LocalDate day : List.of(TODAY.minusDays(1), TODAY)) {
      RuleMetadata metadata = new RuleMetadata("why", "Ada", "CHG-1", Optional.of(day));
      Rule kept = new Rule(rule.id(), "", Rule.State.ON, rule.match(), rule.then(), metadata);
      Rulebase rulebase =
          new Rulebase(
              "kept",
              List.of(new Chapter("c", "All", "", List.of(kept))),
              SmallWorld.sets(),
              Verdict.DENY);
      Reviewer.review(CompiledRulebase.of(rulebase, SmallWorld.environment()), Budget.USUAL)
          .of("r1")
          .stream()
          .filter(finding -> finding.kind() == Kind.OVERDUE)
          .forEach(found::add);
    }
    assertThat(found).hasSize(1);
    assertThat(words(found.get(0)))
        .isEqualTo("This rule was to be looked at again by Ada by " + TODAY.minusDays(1) + ".");
  }
}
