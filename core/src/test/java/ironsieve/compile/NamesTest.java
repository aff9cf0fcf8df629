package ironsieve.compile;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.model.NamedSet;
import ironsieve.model.Parts;
import ironsieve.model.Rulebase;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.model.Verdict;
import ironsieve.text.ValueText;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class NamesTest {

  @ParameterizedTest
  @ValueSource(
      strings = {
        "from.zones=Moon",
        "from.people=nobody.here",
        "from.people=group Pirates",
        "from.devices=toaster",
        "using.applications=Ghost",
        "using.applications=Mail/fly",
        "using.applications=family Ghosts",
        "using.applications=category ghosts",
        "to.networks=set Ghosts"
      })
  void aNameThatStandsForNothingIsAProblemOfItsField(String field) {
    Rulebase rulebase = Rulebases.of("allow " + field);
    List<Problem> problems =
        Check.problems(rulebase, new Names(rulebase.parts(), SmallWorld.environment()));
    assertThat(problems).hasSize(1);
    assertThat(problems.get(0).field()).isEqualTo(field.split("=")[0]);
    assertThatThrownBy(() -> CompiledRulebase.of(rulebase, SmallWorld.environment()))
        .isInstanceOf(ProblemException.class);
  }

  @Test
  void aCategoryIsStillMeantWhereWhatIsLeftOutOfItIsGone() {
    Names names = new Names(Parts.of(List.of()), SmallWorld.environment());
    Value talk = ValueText.parse(ValueKind.APPLICATION, "category talk but not Ghost");
    assertThat(names.unknown(ValueKind.APPLICATION, talk)).isPresent();
    assertThat(names.open(ValueKind.APPLICATION, talk)).containsExactly(talk);
  }

  @Test
  void aSetThatHoldsItselfIsToldWithItsPath() {
    List<NamedSet> sets = List.of(set("a", "set b"), set("b", "set c"), set("c", "set a"));
    Rulebase rulebase = new Rulebase("x", List.of(), sets, Verdict.DENY);
    assertThat(Check.problems(rulebase, new Names(Parts.of(sets), SmallWorld.environment())))
        .extracting(Problem::message)
        .contains("it holds itself: a → b → c → a");
  }

  private static NamedSet set(String name, String value) {
    return new NamedSet(
        name, ValueKind.NETWORK, List.of(ValueText.parse(ValueKind.NETWORK, value)), "");
  }
}
