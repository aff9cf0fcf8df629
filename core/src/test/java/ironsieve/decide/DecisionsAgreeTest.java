package ironsieve.decide;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.Twin;
import ironsieve.compile.CompiledRulebase;
import ironsieve.model.Connection;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
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

  private static final List<SmallWorld.Point> POINTS = SmallWorld.points();

  @Provide
  Arbitrary<Rulebase> rulebases() {
    return Rulebases.random(8);
  }

  @Property(tries = 3000)
  void theCatchIsTheFirstRuleWhoseDefinitionHolds(
      @ForAll("rulebases") Rulebase rulebase, @ForAll long seed) {
    List<Rule> on = rulebase.rules().stream().filter(Rule::isOn).toList();
    Twin twin = new Twin(rulebase, SmallWorld.surroundings());
    Decider decider = new Decider(CompiledRulebase.of(rulebase, SmallWorld.surroundings()));
    for (Connection connection : some(seed, 40)) {
      int expected = twin.catcher(on, connection);
      assertThat(decider.decide(connection).map(Rule::id).orElse("last"))
          .as("%s", connection)
          .isEqualTo(expected < 0 ? "last" : on.get(expected).id());
    }
  }

  @Property(tries = 1500)
  void aFallNamesExactlyTheFieldsThatDoNotHold(
      @ForAll("rulebases") Rulebase rulebase, @ForAll long seed) {
    Twin twin = new Twin(rulebase, SmallWorld.surroundings());
    Decider decider = new Decider(CompiledRulebase.of(rulebase, SmallWorld.surroundings()));
    for (Connection connection : some(seed, 10)) {
      for (Fall.Pass pass : decider.fall(connection).last().passed()) {
        Rule rule = rulebase.rule(pass.rule()).orElseThrow();
        Set<FieldName> missed =
            rule.match().fields().keySet().stream()
                .filter(name -> !twin.holds(rule, name, connection))
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

  private static List<Connection> some(long seed, int count) {
    return new Random(seed)
        .ints(count, 0, POINTS.size())
        .mapToObj(i -> POINTS.get(i).connection())
        .toList();
  }
}
