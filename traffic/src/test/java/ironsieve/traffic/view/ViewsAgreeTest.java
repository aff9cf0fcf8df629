package ironsieve.traffic.view;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.compile.CompiledRulebase;
import ironsieve.model.Connection;
import ironsieve.model.Environment;
import ironsieve.model.Tape;
import ironsieve.model.Tape.Unsaid;
import ironsieve.model.Verdict;
import ironsieve.recorded.RecordedDecisions;
import ironsieve.recorded.RecordedDecisions.Decision;
import ironsieve.recorded.TapeColumns;
import ironsieve.recorded.Traffic;
import ironsieve.text.ProbeText;
import ironsieve.traffic.DemoSignatures;
import ironsieve.traffic.view.TrafficView.Bar;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;

/** Sums of views against adding up line by line what each line plainly says. */
class ViewsAgreeTest {

  private static final Environment HERE =
      DemoSignatures.folder().environment(LocalDate.of(2026, 11, 23));
  private static final ProbeText PROBES = new ProbeText(HERE);
  private static final List<String> PEOPLE = List.of("ines.halloran", "aksel.cray", "");
  private static final List<String> USES = List.of("Chatterbay over TLS", "DNS", "TLS", "");
  private static final List<String> ZONES = List.of("Offices", "Crew wifi");

  private static final CompiledRulebase COMPILED =
      CompiledRulebase.of(DemoSignatures.folder().contents("main-gateway").rulebase(), HERE);

  private record Plain(
      String person, String use, String zone, String tape, Decision decision, Tape.Line line) {

    private String rule() {
      return decision.rules().size() > 1
          ? "it depends"
          : decision.rules().get(0).orElse("default verdict");
    }

    private String verdict() {
      return decision.verdict().map(Verdict::word).orElse("it depends");
    }
  }

  /** Lines on two tapes, and what the demo's rulebase does with them. */
  private record Given(List<Plain> lines, RecordedDecisions decisions) {}

  private static Given given(Random random) {
    List<Plain> lines = lines(random);
    List<Tape> tapes = new ArrayList<>();
    for (String name : List.of("one", "two")) {
      tapes.add(
          new Tape(
              name,
              lines.stream().filter(one -> one.tape().equals(name)).map(Plain::line).toList()));
    }
    RecordedDecisions decisions =
        RecordedDecisions.of(
            COMPILED,
            Traffic.ofColumns(tapes.stream().map(tape -> TapeColumns.inBlocks(tape, 4)).toList()));
    List<Plain> decided = new ArrayList<>();
    for (int t = 0; t < 2; t++) {
      List<Decision> of = decisions.decisions(t);
      int next = 0;
      for (Plain one : lines) {
        if (one.tape().equals(tapes.get(t).name())) {
          decided.add(
              new Plain(
                  one.person(), one.use(), one.zone(), one.tape(), of.get(next++), one.line()));
        }
      }
    }
    return new Given(decided, decisions);
  }

  private static List<Plain> lines(Random random) {
    List<Plain> lines = new ArrayList<>();
    for (int i = random.nextInt(40); i >= 0; i--) {
      String person = PEOPLE.get(random.nextInt(PEOPLE.size()));
      String use = USES.get(random.nextInt(USES.size()));
      String zone = ZONES.get(random.nextInt(ZONES.size()));
      LocalDateTime at = LocalDateTime.of(2026, 11, 3, 0, 0).plusMinutes(random.nextInt(5_000));
      String text =
          "from "
              + zone
              + (person.isEmpty() ? "" : " as " + person)
              + " to Internet using tcp/443 "
              + use;
      Connection connection = PROBES.parse(text.strip(), at).connection();
      Set<Unsaid> unsaid = random.nextInt(4) == 0 ? Set.of(Unsaid.PERSON) : Set.of();
      Tape.Line line =
          new Tape.Line(
              connection,
              1 + random.nextInt(5),
              new Tape.Volume(random.nextInt(100), random.nextInt(100)),
              unsaid,
              Tape.NO_SAMPLE);
      lines.add(
          new Plain(
              unsaid.isEmpty() ? (person.isEmpty() ? "unidentified" : person) : "not said",
              use.isEmpty() ? "none" : use.split(" ")[0],
              zone,
              random.nextInt(3) == 0 ? "two" : "one",
              null,
              line));
    }
    return lines;
  }

  private static String value(By by, Plain line) {
    return switch (by) {
      case PERSON -> line.person();
      case APPLICATION -> line.use();
      case FROM_ZONE -> line.zone();
      case RULE -> line.rule();
      case VERDICT -> line.verdict();
      case TAPE -> line.tape();
      default -> throw new IllegalArgumentException(by + " is not asked here");
    };
  }

  @Property(tries = 300)
  void barsAreSumsOfTheLinesThatEveryOtherChoiceLeaves(@ForAll long seed) {
    Random random = new Random(seed);
    Given given = given(random);
    List<Plain> lines = given.lines();
    TrafficView view = new TrafficView(HERE, given.decisions());
    Map<By, Set<String>> only = new HashMap<>();
    List<By> asked = List.of(By.PERSON, By.APPLICATION, By.FROM_ZONE, By.RULE, By.VERDICT, By.TAPE);
    for (By by : asked) {
      if (random.nextInt(3) == 0) {
        only.put(by, Set.of(value(by, lines.get(random.nextInt(lines.size())))));
      }
    }
    LocalDateTime from =
        random.nextBoolean() ? null : LocalDateTime.of(2026, 11, 4, random.nextInt(24), 0);
    Narrowing narrowing = new Narrowing(only, from, null);
    if (random.nextBoolean()) {
      view.addUp(asked, narrowing);
    }
    for (By by : asked) {
      Map<String, Sum> expected = new HashMap<>();
      for (Plain line : lines) {
        boolean fits =
            (from == null || !line.line().connection().at().isBefore(from))
                && only.entrySet().stream()
                    .allMatch(
                        entry ->
                            entry.getKey() == by
                                || entry.getValue().contains(value(entry.getKey(), line)));
        if (fits) {
          Tape.Line one = line.line();
          expected.merge(
              value(by, line),
              new Sum(one.times(), one.volume().up(), one.volume().down()),
              (a, b) -> new Sum(a.times() + b.times(), a.up() + b.up(), a.down() + b.down()));
        }
      }
      Map<String, Sum> found = new HashMap<>();
      List<Bar> bars = view.bars(by, narrowing, false);
      bars.forEach(bar -> found.put(bar.value(), bar.sum()));
      assertThat(found).isEqualTo(expected);
      assertThat(bars)
          .isSortedAccordingTo((a, b) -> Long.compare(b.sum().times(), a.sum().times()));
      TrafficView.Top top = view.top(by, narrowing, false, 2);
      assertThat(top.bars()).isEqualTo(bars.subList(0, Math.min(2, bars.size())));
      assertThat(top.more()).isEqualTo(bars.size() - top.bars().size());
    }
  }

  @Property(tries = 200)
  void stepsOfTimeAddUpToAllThatIsLookedAt(@ForAll long seed) {
    TrafficView view = new TrafficView(HERE, given(new Random(seed)).decisions());
    Narrowing narrowing = new Narrowing(Map.of(By.FROM_ZONE, Set.of("Offices")), null, null);
    List<TrafficView.Step> steps = view.steps(narrowing);
    assertThat(steps.stream().mapToLong(step -> step.sum().times()).sum())
        .isEqualTo(view.total(narrowing).times());
    assertThat(steps).hasSizeLessThanOrEqualTo(62);
    List<Map<String, Sum>> byRule = view.stepsBy(By.RULE, narrowing);
    for (int i = 0; i < steps.size(); i++) {
      assertThat(byRule.get(i).values().stream().mapToLong(Sum::times).sum())
          .isEqualTo(steps.get(i).sum().times());
    }
  }

  @Property(tries = 100)
  void theConnectionsLookedAtAreThoseThatFitMostFrequentFirst(@ForAll long seed) {
    Random random = new Random(seed);
    Given given = given(random);
    TrafficView view = new TrafficView(HERE, given.decisions());
    Narrowing narrowing =
        new Narrowing(
            Map.of(By.APPLICATION, Set.of("DNS", "none"), By.TAPE, Set.of("one")),
            null,
            LocalDateTime.of(2026, 11, 5, 0, 0));
    List<Plain> fitting =
        given.lines().stream()
            .filter(one -> Set.of("DNS", "none").contains(one.use()) && one.tape().equals("one"))
            .filter(one -> one.line().connection().at().isBefore(narrowing.to()))
            .toList();
    TrafficView.Lines found = view.lines(narrowing, 5);
    assertThat(found.some()).hasSize(Math.min(5, fitting.size()));
    assertThat(found.more()).isEqualTo(fitting.size() - found.some().size());
    List<Long> most =
        fitting.stream()
            .map(one -> one.line().times())
            .sorted((a, b) -> Long.compare(b, a))
            .toList();
    assertThat(found.some())
        .extracting(one -> one.line().times())
        .isEqualTo(most.subList(0, found.some().size()));
    for (TrafficView.Decided one : found.some()) {
      assertThat(fitting)
          .anyMatch(
              plain -> plain.line().equals(one.line()) && plain.decision().equals(one.decision()));
    }
  }

  @Property(tries = 60)
  void aConnectionCountsForEachGroupThatHoldsThePerson(@ForAll long seed) {
    Given given = given(new Random(seed));
    TrafficView view = new TrafficView(HERE, given.decisions());
    Map<String, Long> expected = new HashMap<>();
    for (Plain line : given.lines()) {
      List<String> groups =
          switch (line.person()) {
            case "not said" -> List.of("not said");
            case "unidentified" -> List.of("none");
            default ->
                HERE
                    .directory()
                    .groupsOf(HERE.directory().person(line.person()).orElseThrow())
                    .stream()
                    .toList();
          };
      for (String group : groups.isEmpty() ? List.of("none") : groups) {
        expected.merge(group, line.line().times(), Long::sum);
      }
    }
    Map<String, Long> found = new HashMap<>();
    view.bars(By.GROUP, Narrowing.NONE, false)
        .forEach(bar -> found.put(bar.value(), bar.sum().times()));
    assertThat(found).isEqualTo(expected);
  }
}
