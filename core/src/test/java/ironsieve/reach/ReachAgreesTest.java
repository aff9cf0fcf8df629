package ironsieve.reach;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.Twin;
import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.Dimension;
import ironsieve.decide.Decider;
import ironsieve.model.Application;
import ironsieve.model.Connection;
import ironsieve.model.Rule;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.model.Zone;
import ironsieve.text.ValueText;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import org.junit.jupiter.api.Test;

/** What reach says of a cell is what trying every connection in it says. */
class ReachAgreesTest {

  @Provide
  Arbitrary<Rulebases.Case> cases() {
    return Rulebases.cases(6);
  }

  @Property(tries = 600)
  void aCellIsWhatTryingEveryConnectionSays(
      @ForAll("cases") Rulebases.Case given, @ForAll long seed) {
    Random random = new Random(seed);
    CompiledRulebase compiled = CompiledRulebase.of(given.rulebase(), given.world().environment());
    // The web world's connections all come from inside.
    Value who = pick(random, ValueKind.PERSON, List.of("ada", "cy", "group crew", "unidentified"));
    Value what =
        pick(random, ValueKind.APPLICATION, List.of("Mail", "Files/upload", "family Post"));
    Reach reach =
        new Reach(
            compiled,
            new Reach.Zones(List.of("Inside"), List.of("Outside")),
            List.of(who),
            List.of(what));
    Cell cell = reach.cell(who, what);
    Twin twin = new Twin(given.rulebase(), given.world().environment());
    List<Rule> on = given.rulebase().rules().stream().filter(Rule::isOn).toList();
    Set<Boolean> passes = new HashSet<>();
    Set<String> rules = new HashSet<>();
    Rule people = asking("from.people", who);
    Rule applications = asking("using.applications", what);
    for (SmallWorld.Point point : given.world().ahead()) {
      Connection c = point.connection();
      boolean asked =
          c.from().place().zone().equals("Inside")
              && c.to().zone().equals("Outside")
              && twin.holds(people, ironsieve.model.FieldName.PEOPLE, c)
              && twin.holds(applications, ironsieve.model.FieldName.APPLICATIONS, c)
              && twin.usual(c);
      if (asked) {
        int catcher = twin.catcher(on, c);
        rules.add(catcher < 0 ? "last" : on.get(catcher).id());
        passes.add(twin.outcome(on, c).verdict().passes());
      }
    }
    assertThat(cell.extent()).isEqualTo(Cell.Extent.COMPLETE);
    assertThat(cell.standing())
        .isEqualTo(
            passes.size() == 2
                ? Cell.Standing.DEPENDS
                : passes.contains(true) ? Cell.Standing.ALLOWED : Cell.Standing.BLOCKED);
    Set<String> said = new HashSet<>();
    Decider decider = new Decider(compiled);
    for (Cell.Decider one : cell.deciders()) {
      // A witness is one of the connections that were asked about.
      Connection shown = one.witness();
      assertThat(twin.holds(people, ironsieve.model.FieldName.PEOPLE, shown)).isTrue();
      assertThat(twin.holds(applications, ironsieve.model.FieldName.APPLICATIONS, shown)).isTrue();
      assertThat(twin.usual(shown)).isTrue();
      said.add(one.rule().orElse("last"));
      assertThat(decider.decide(one.witness()).map(Rule::id)).isEqualTo(one.rule());
      assertThat(decider.outcome(one.witness())).isEqualTo(one.outcome());
    }
    assertThat(said).isEqualTo(rules);
    assertThat(cell.deciders().stream().mapToDouble(Cell.Decider::share).sum())
        .isCloseTo(1, org.assertj.core.api.Assertions.within(1e-9));
    assertThat(cell.dependsOn().isEmpty()).isEqualTo(cell.standing() != Cell.Standing.DEPENDS);
  }

  private static Value pick(Random random, ValueKind kind, List<String> texts) {
    return ValueText.parse(kind, texts.get(random.nextInt(texts.size())));
  }

  private static Rule asking(String field, Value value) {
    return Rulebases.rule("allow " + field + "=" + ValueText.print(value));
  }

  @Test
  void itIsSaidOnWhatItDepends() {
    CompiledRulebase compiled =
        CompiledRulebase.of(
            Rulebases.of(
                "deny from.devices=any device, unhealthy",
                "allow from.people=group crew using.applications=Mail when.times=mon-fri"
                    + " 08:00-18:00",
                "deny using.applications=Mail",
                "allow using.applications=Chat"),
            SmallWorld.environment());
    Reach reach =
        new Reach(
            compiled,
            new Reach.Zones(List.of(), List.of()),
            List.of(new Value.PersonName("ben"), new Value.GroupName("crew")),
            List.of(new Value.ApplicationName("Mail"), new Value.ApplicationName("Chat")));
    Cell mail = reach.cell(new Value.PersonName("ben"), new Value.ApplicationName("Mail"));
    assertThat(mail.standing()).isEqualTo(Cell.Standing.DEPENDS);
    assertThat(mail.dependsOn()).containsExactly(Dimension.DEVICE, Dimension.TIME);
    Cell crew = reach.cell(new Value.GroupName("crew"), new Value.ApplicationName("Mail"));
    assertThat(crew.dependsOn()).doesNotContain(Dimension.PERSON);
    Cell everybody = reach.cell(Value.Identity.IDENTIFIED, new Value.ApplicationName("Mail"));
    assertThat(everybody.dependsOn()).contains(Dimension.PERSON);
    assertThat(reach.cell(new Value.PersonName("cy"), new Value.ApplicationName("Mail")).standing())
        .isEqualTo(Cell.Standing.BLOCKED);
    Application chat = SmallWorld.environment().catalogue().application("Chat").orElseThrow();
    assertThat(reach.touching(chat).deciders())
        .extracting(Cell.Decider::rule)
        .containsExactly(Optional.of("r4"), Optional.of("r1"));
    assertThat(Reach.word(Dimension.TIME)).isEqualTo("the time");
  }

  @Test
  void sharesAndWitnessesAreOfWhatIsAskedAndNotOfWhatNoRuleTellsFromIt() {
    // No rule names Mail, nor its port: to the rules it is one of many, on one of 65,536 ports.
    CompiledRulebase compiled =
        CompiledRulebase.of(
            Rulebases.of("allow using.services=tcp from.people=ada", "deny"),
            SmallWorld.environment());
    Value mail = new Value.ApplicationName("Mail");
    Reach reach =
        new Reach(
            compiled,
            new Reach.Zones(List.of(), List.of()),
            List.of(Value.Identity.IDENTIFIED),
            List.of(mail));
    Cell cell = reach.cell(Value.Identity.IDENTIFIED, mail);
    assertThat(cell.deciders())
        .allSatisfy(
            one -> {
              assertThat(one.witness().using().application()).contains("Mail");
              assertThat(one.witness().service().detail()).isEqualTo(80);
            });
    assertThat(cell.deciders().get(1).share())
        .isCloseTo(1.0 / 3, org.assertj.core.api.Assertions.within(1e-9));
  }

  @Property(tries = 150)
  void betweenZonesIsWhatACellForEachPairOfThemSays(
      @ForAll("cases") Rulebases.Case given, @ForAll long seed) {
    Random random = new Random(seed);
    CompiledRulebase compiled = CompiledRulebase.of(given.rulebase(), given.world().environment());
    Value who = pick(random, ValueKind.PERSON, List.of("ada", "cy", "group crew", "unidentified"));
    List<Value> what =
        List.of(
            ValueText.parse(ValueKind.APPLICATION, "Mail"),
            ValueText.parse(ValueKind.APPLICATION, "family Post"));
    List<ZoneGroup> groups =
        new Reach(compiled, new Reach.Zones(List.of(), List.of()), List.of(who), what)
            .betweenZones(who, what)
            .orElseThrow();
    Map<List<String>, List<Cell.Standing>> said = new HashMap<>();
    for (ZoneGroup group : groups) {
      List<Cell.Standing> standings = what.stream().map(value -> standing(group, value)).toList();
      for (ZoneGroup.Way way : group.ways()) {
        for (String from : way.from()) {
          for (String to : way.to()) {
            assertThat(said.put(List.of(from, to), standings)).as(from + " to " + to).isNull();
          }
        }
      }
    }
    assertThat(groups.stream().mapToInt(ZoneGroup::pairs).sum()).isEqualTo(said.size());
    for (Zone from : given.world().environment().zones()) {
      for (Zone to : given.world().environment().zones()) {
        List<String> pair = List.of(from.name(), to.name());
        Reach.Zones zones = new Reach.Zones(List.of(from.name()), List.of(to.name()));
        Reach reach = new Reach(compiled, zones, List.of(who), what);
        List<Cell> cells = what.stream().map(value -> reach.cell(who, value)).toList();
        if (cells.stream().allMatch(cell -> cell.deciders().isEmpty())) {
          assertThat(said).doesNotContainKey(pair);
        } else {
          assertThat(said.get(pair)).isEqualTo(cells.stream().map(Cell::standing).toList());
        }
      }
    }
  }

  private static Cell.Standing standing(ZoneGroup group, Value value) {
    return group.allowed().contains(value)
        ? Cell.Standing.ALLOWED
        : group.depends().contains(value) ? Cell.Standing.DEPENDS : Cell.Standing.BLOCKED;
  }

  @Test
  void aFieldThatDecidesAloneInPartOfACellIsNamed() {
    // For ada it is the device that decides, for ben the time; each dimension's own shadow is the
    // same.
    CompiledRulebase compiled =
        CompiledRulebase.of(
            Rulebases.of(
                "allow from.people=ada from.devices=any device, healthy",
                "allow from.people=ben when.times=mon-fri 08:00-18:00",
                "allow from.people=cy"),
            SmallWorld.environment());
    Value everybody = Value.Identity.IDENTIFIED;
    Value chat = new Value.ApplicationName("Chat");
    Reach reach =
        new Reach(
            compiled, new Reach.Zones(List.of(), List.of()), List.of(everybody), List.of(chat));
    assertThat(reach.cell(everybody, chat).dependsOn())
        .containsExactly(Dimension.PERSON, Dimension.DEVICE, Dimension.TIME);
  }
}
