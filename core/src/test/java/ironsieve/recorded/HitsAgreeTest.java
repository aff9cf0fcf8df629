package ironsieve.recorded;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.Twin;
import ironsieve.compile.CompiledRulebase;
import ironsieve.decide.Decider;
import ironsieve.model.Connection;
import ironsieve.model.Rule;
import ironsieve.model.Tape;
import ironsieve.review.Budget;
import ironsieve.review.Finding;
import ironsieve.review.Review;
import ironsieve.review.Reviewer;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import org.junit.jupiter.api.Test;

/** Hits are what dropping each recorded connection by the definition comes to. */
class HitsAgreeTest {

  @Provide
  Arbitrary<Rulebases.Case> cases() {
    return Rulebases.cases(8);
  }

  @Property(tries = 1500)
  void hitsAreCountedWhereEachConnectionFalls(
      @ForAll("cases") Rulebases.Case given, @ForAll long seed) {
    List<Rule> on = given.rulebase().rules().stream().filter(Rule::isOn).toList();
    Twin twin = new Twin(given.rulebase(), given.world().environment());
    List<Tape> tapes = List.of(tape(given, seed), tape(given, seed + 1));
    Map<String, Long> expected = new HashMap<>();
    for (Tape tape : tapes) {
      for (Tape.Line line : tape.lines()) {
        int rule = twin.catcher(on, line.connection());
        expected.merge(rule < 0 ? "last" : on.get(rule).id(), line.times(), Long::sum);
      }
    }
    CompiledRulebase compiled = CompiledRulebase.of(given.rulebase(), given.world().environment());
    Review review = Reviewer.review(compiled, Budget.USUAL, tapes);
    Map<String, Long> counted = new HashMap<>();
    review.hits().counts().forEach((id, count) -> counted.put(id, count.times()));
    review.hits().defaultVerdict().ifPresent(count -> counted.put("last", count.times()));
    assertThat(counted).isEqualTo(expected);

    Set<String> unused = new HashSet<>();
    for (Rule rule : on) {
      boolean reached = review.residue(rule.id()).witness().isPresent();
      if (reached && !expected.containsKey(rule.id())) {
        unused.add(rule.id());
      }
    }
    List<Finding> said =
        review.findings().stream().filter(f -> f.kind() == Finding.Kind.UNUSED).toList();
    assertThat(said).extracting(Finding::rule).containsExactlyInAnyOrderElementsOf(unused);
    Decider decider = new Decider(compiled);
    for (Finding finding : said) {
      Connection witness = finding.evidence().get(0).witness().connection();
      assertThat(decider.decide(witness).map(Rule::id)).contains(finding.rule());
    }
  }

  @Property(tries = 600)
  void whatIsNotSaidMayHaveBeenAnything(@ForAll("cases") Rulebases.Case given, @ForAll long seed) {
    Random random = new Random(seed);
    List<Rule> on = given.rulebase().rules().stream().filter(Rule::isOn).toList();
    Twin twin = new Twin(given.rulebase(), given.world().environment());
    CompiledRulebase compiled = CompiledRulebase.of(given.rulebase(), given.world().environment());
    for (Tape.Line line : tape(given, seed).lines()) {
      Set<Tape.Unsaid> unsaid = EnumSet.noneOf(Tape.Unsaid.class);
      for (Tape.Unsaid one : List.of(Tape.Unsaid.PERSON, Tape.Unsaid.DEVICE)) {
        if (random.nextBoolean()) {
          unsaid.add(one);
        }
      }
      Tape.Line partly =
          new Tape.Line(line.connection(), 1, Tape.Volume.NONE, unsaid, Tape.NO_SAMPLE);
      Hits hits = Hits.of(compiled, List.of(new Tape("t", List.of(partly))));
      Set<String> said = new HashSet<>(hits.counts().keySet());
      hits.defaultVerdict().ifPresent(count -> said.add("last"));
      hits.depending().forEach(one -> one.rules().forEach(rule -> said.add(rule.orElse("last"))));
      // Every point of the small world that agrees with what is said.
      Set<String> possible = new HashSet<>();
      for (SmallWorld.Point point : given.world().points()) {
        Connection other = point.connection();
        if (agrees(line.connection(), other, unsaid)) {
          int rule = twin.catcher(on, other);
          possible.add(rule < 0 ? "last" : on.get(rule).id());
        }
      }
      assertThat(said).containsAll(possible);
      assertThat(said.size() == 1).isEqualTo(hits.depending().isEmpty());
      if (unsaid.isEmpty()) {
        assertThat(said).isEqualTo(possible);
      }
    }
  }

  private static boolean agrees(Connection one, Connection other, Set<Tape.Unsaid> unsaid) {
    boolean isPerson =
        unsaid.contains(Tape.Unsaid.PERSON) || one.from().person().equals(other.from().person());
    boolean isDevice =
        unsaid.contains(Tape.Unsaid.DEVICE) || one.from().device().equals(other.from().device());
    return isPerson
        && isDevice
        && one.from().place().equals(other.from().place())
        && one.to().equals(other.to())
        && one.at().equals(other.at())
        && one.service().equals(other.service())
        && one.using().equals(other.using());
  }

  @Property(tries = 500)
  void anEditChangesTheRecordedConnectionsThatGetAnotherVerdictByTheDefinition(
      @ForAll("cases") Rulebases.Case given, @ForAll long seed) {
    List<Rule> before = given.rulebase().rules().stream().filter(Rule::isOn).toList();
    if (before.size() < 2) {
      return;
    }
    // The second rule goes to the top.
    List<Rule> after = new ArrayList<>(before);
    after.add(0, after.remove(1));
    Twin twin = new Twin(given.rulebase(), given.world().environment());
    Tape tape = tape(given, seed);
    Traffic traffic = Traffic.of(List.of(tape));
    RecordedDecisions was = RecordedDecisions.of(compiled(given, before), traffic);
    RecordedDecisions becomes = RecordedDecisions.of(compiled(given, after), traffic);
    List<Tape.Line> expected =
        tape.lines().stream()
            .filter(
                line ->
                    !outcome(given, twin, before, line).equals(outcome(given, twin, after, line)))
            .toList();
    assertThat(was.changedBy(becomes, Integer.MAX_VALUE).lines())
        .extracting(RecordedDecisions.Changed::line)
        .containsExactlyInAnyOrderElementsOf(expected);
  }

  private static CompiledRulebase compiled(Rulebases.Case given, List<Rule> rules) {
    return CompiledRulebase.of(
        new ironsieve.model.Rulebase(
            given.rulebase().name(),
            List.of(new ironsieve.model.Chapter("c", "All", "", rules)),
            given.rulebase().parts(),
            given.rulebase().defaultVerdict()),
        given.world().environment());
  }

  private static ironsieve.model.Outcome outcome(
      Rulebases.Case given, Twin twin, List<Rule> rules, Tape.Line line) {
    int rule = twin.catcher(rules, line.connection());
    return rule < 0
        ? ironsieve.model.Outcome.of(given.rulebase().defaultVerdict())
        : twin.outcome(rules.get(rule), line.connection());
  }

  @Property(tries = 300)
  void placesThatAreRememberedAreThoseOfTheSpaceAskedAbout(
      @ForAll("cases") Rulebases.Case one,
      @ForAll("cases") Rulebases.Case other,
      @ForAll long seed) {
    Traffic shared = Traffic.of(List.of(tape(one, seed)));
    for (Rulebases.Case given : List.of(one, other, one)) {
      CompiledRulebase compiled =
          CompiledRulebase.of(given.rulebase(), given.world().environment());
      Hits fresh = Hits.of(compiled, List.of(tape(one, seed)));
      Hits again = Hits.of(compiled, shared);
      assertThat(again.counts()).isEqualTo(fresh.counts());
      assertThat(again.defaultVerdict()).isEqualTo(fresh.defaultVerdict());
      assertThat(again.impossible()).isEqualTo(fresh.impossible());
    }
  }

  @Test
  void whatThereCanNoLongerBeIsCountedApart() {
    Connection real = SmallWorld.points().get(0).connection();
    Connection odd =
        new Connection(
            real.at(),
            new Connection.Source(
                new Connection.Place("Nowhere", real.from().place().address()),
                real.from().person(),
                real.from().device()),
            real.to(),
            real.service(),
            real.using());
    CompiledRulebase compiled =
        CompiledRulebase.of(Rulebases.of("allow"), SmallWorld.environment());
    Tape tape = new Tape("t", List.of(new Tape.Line(odd, 3), new Tape.Line(real, 2)));
    Hits hits = Hits.of(compiled, List.of(tape));
    assertThat(hits.impossible()).isEqualTo(3);
    assertThat(hits.counts()).containsOnlyKeys("r1");
    assertThat(hits.times()).isEqualTo(5);
    assertThat(hits.period()).contains(new Hits.Period(real.at(), real.at()));
  }

  @Test
  void aMonthOfTrafficMakesAnUnusedRuleWorthAMark() {
    Connection first = SmallWorld.points().get(0).connection();
    LocalDateTime later = first.at().plusDays(30);
    Connection last =
        new Connection(later, first.from(), first.to(), first.service(), first.using());
    CompiledRulebase compiled =
        CompiledRulebase.of(
            Rulebases.of("allow", "deny using.services=tcp/80"), SmallWorld.environment());
    assertThat(unused(compiled, List.of(first))).isEmpty();
    CompiledRulebase reached =
        CompiledRulebase.of(
            Rulebases.of("deny from.people=ada", "allow"), SmallWorld.environment());
    List<Finding> day = unused(reached, List.of(first));
    List<Finding> month = unused(reached, List.of(first, last));
    assertThat(day).hasSize(1).first().extracting(Finding::severity).hasToString("QUIET");
    assertThat(month).hasSize(1).first().extracting(Finding::severity).hasToString("NOTE");
  }

  private static List<Finding> unused(CompiledRulebase compiled, List<Connection> seen) {
    List<Tape.Line> lines = seen.stream().map(c -> new Tape.Line(c, 1)).toList();
    return Reviewer.review(compiled, Budget.USUAL, List.of(new Tape("t", lines)))
        .findings()
        .stream()
        .filter(f -> f.kind() == Finding.Kind.UNUSED)
        .toList();
  }

  private static Tape tape(Rulebases.Case given, long seed) {
    List<SmallWorld.Point> points = given.world().points();
    Random random = new Random(seed);
    List<Tape.Line> lines = new ArrayList<>();
    for (int i = 0; i < 12; i++) {
      SmallWorld.Point point = points.get(random.nextInt(points.size()));
      lines.add(new Tape.Line(point.connection(), 1 + random.nextInt(9)));
    }
    return new Tape("tape " + seed, lines);
  }
}
