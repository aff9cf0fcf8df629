package ironsieve.reach;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.Twin;
import ironsieve.compile.CompiledRulebase;
import ironsieve.model.Connection;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.text.ValueText;
import java.util.List;
import java.util.Random;
import java.util.Set;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;

/** Which rules can match a value is what trying every connection with it says. */
class MatchingAgreesTest {

  @Provide
  Arbitrary<Rulebases.Case> cases() {
    return Rulebases.cases(7);
  }

  @Property(tries = 800)
  void aRuleIsNamedIfAConnectionWithTheValueIsInItsClaim(
      @ForAll("cases") Rulebases.Case given, @ForAll long seed) {
    Random random = new Random(seed);
    List<FieldName> fields = given.world().fields();
    FieldName name = fields.get(random.nextInt(fields.size()));
    List<String> values = given.world().values().apply(name.kind());
    Field asked = Field.is(ValueText.parse(name.kind(), values.get(random.nextInt(values.size()))));
    Rule.Match match = Rule.Match.any().with(name, asked);
    CompiledRulebase compiled = CompiledRulebase.of(given.rulebase(), given.world().environment());
    Set<String> named = Matching.rules(compiled, match);

    Twin twin = new Twin(given.rulebase(), given.world().environment());
    Rule wanted =
        new Rule("w", "", Rule.State.ON, match, Rulebases.of("deny").rules().get(0).then(), "");
    List<Connection> meant =
        given.world().ahead().stream()
            .map(SmallWorld.Point::connection)
            .filter(connection -> twin.catcher(List.of(wanted), connection) == 0)
            .toList();
    List<String> tried =
        given.rulebase().rules().stream()
            .filter(Rule::isOn)
            .filter(rule -> meant.stream().anyMatch(c -> twin.catcher(List.of(rule), c) == 0))
            .map(Rule::id)
            .toList();
    assertThat(named).containsExactlyInAnyOrderElementsOf(tried);

    Matching.Sight sight = Matching.sight(compiled, match);
    assertThat(sight.some()).isEqualTo(!meant.isEmpty());
    assertThat(sight.share() > 0).isEqualTo(sight.some());
    if (name != FieldName.APPLICATIONS) {
      assertThat(sight.all()).isEqualTo(sight.some());
    }

    // Which of them really get some of it is told from the same connections.
    Matching.Answer answer = Matching.answer(compiled, match);
    List<Rule> on = given.rulebase().rules().stream().filter(Rule::isOn).toList();
    List<String> getting =
        meant.stream()
            .map(c -> twin.catcher(on, c))
            .distinct()
            .sorted()
            .map(r -> r < 0 ? "default verdict" : on.get(r).id())
            .toList();
    assertThat(answer.isComplete()).isTrue();
    assertThat(answer.can()).containsExactlyElementsOf(tried);
    assertThat(answer.defaultVerdict()).isEqualTo(getting.contains("default verdict"));
    assertThat(answer.get())
        .containsExactlyElementsOf(
            getting.stream().filter(one -> !one.equals("default verdict")).toList());
    assertThat(answer.isOne()).isEqualTo(getting.size() == 1);
  }
}
