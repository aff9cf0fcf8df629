package ironsieve.decide;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.Twin;
import ironsieve.compile.CompiledRulebase;
import ironsieve.model.Connection;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import java.util.List;
import java.util.Random;
import java.util.Set;
import java.util.stream.Collectors;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;

/** Every decision and every reason is what the definition says. */
class DecisionsAgreeTest {

  @Provide
  Arbitrary<Rulebases.Case> cases() {
    return Rulebases.cases(8);
  }

  @Property(tries = 4000)
  void theCatchIsTheFirstRuleWhoseDefinitionHolds(
      @ForAll("cases") Rulebases.Case given, @ForAll long seed) {
    List<Rule> on = given.rulebase().rules().stream().filter(Rule::isOn).toList();
    Twin twin = new Twin(given.rulebase(), given.world().environment());
    Decider decider = decider(given);
    for (Connection connection : some(given, seed, 40)) {
      int expected = twin.catcher(on, connection);
      assertThat(decider.decide(connection).map(Rule::id).orElse("last"))
          .as("%s", connection)
          .isEqualTo(expected < 0 ? "last" : on.get(expected).id());
      assertThat(decider.outcome(connection)).isEqualTo(twin.outcome(on, connection));
    }
  }

  @Property(tries = 2000)
  void aFallNamesExactlyTheFieldsThatDoNotHold(
      @ForAll("cases") Rulebases.Case given, @ForAll long seed) {
    Twin twin = new Twin(given.rulebase(), given.world().environment());
    Decider decider = decider(given);
    for (Connection connection : some(given, seed, 10)) {
      for (Fall.Pass pass : decider.fall(connection).passed()) {
        Rule rule = given.rulebase().rule(pass.rule()).orElseThrow();
        Set<FieldName> missed =
            rule.match().fields().keySet().stream()
                .filter(name -> !held(twin, rule, name, connection))
                .collect(Collectors.toSet());
        Set<FieldName> said = pass.misses().stream().map(Reason::field).collect(Collectors.toSet());
        assertThat(said).isNotEmpty().containsAll(missed);
        said.removeAll(missed);
        // What is left can only be an application off its usual ports.
        assertThat(said).isSubsetOf(FieldName.SERVICES);
        assertThat(said.isEmpty() || rule.match().ports() == Rule.Ports.USUAL).isTrue();
      }
    }
  }

  @Property(tries = 1000)
  void whatComesTooLateIsEveryRuleBelowThatMatchesToo(
      @ForAll("cases") Rulebases.Case given, @ForAll long seed) {
    List<Rule> on = given.rulebase().rules().stream().filter(Rule::isOn).toList();
    Twin twin = new Twin(given.rulebase(), given.world().environment());
    Decider decider = decider(given);
    for (Connection connection : some(given, seed, 20)) {
      int caught = twin.catcher(on, connection);
      List<Fall.Below> expected =
          caught < 0
              ? List.of()
              : on.subList(caught + 1, on.size()).stream()
                  .filter(rule -> twin.claims(rule, connection))
                  .map(rule -> new Fall.Below(rule.id(), twin.outcome(rule, connection)))
                  .toList();
      assertThat(decider.fall(connection).below()).as("%s", connection).isEqualTo(expected);
    }
  }

  /** What stays encrypted counts as held only if it would be whatever it is. */
  private static boolean held(Twin twin, Rule rule, FieldName name, Connection connection) {
    return twin.readable(connection)
        ? twin.holds(rule, name, connection)
        : twin.variants(connection).stream().allMatch(v -> twin.holds(rule, name, v));
  }

  private static Decider decider(Rulebases.Case given) {
    return new Decider(CompiledRulebase.of(given.rulebase(), given.world().environment()));
  }

  private static List<Connection> some(Rulebases.Case given, long seed, int count) {
    List<SmallWorld.Point> points = given.world().points();
    return new Random(seed)
        .ints(count, 0, points.size())
        .mapToObj(i -> points.get(i).connection())
        .toList();
  }
}
