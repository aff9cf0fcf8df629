package ironsieve.text;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import ironsieve.SmallWorld;
import ironsieve.model.FieldName;
import ironsieve.model.Lane;
import ironsieve.model.NamedSet;
import ironsieve.model.Notice;
import ironsieve.model.Parts;
import ironsieve.model.Rule;
import ironsieve.model.ValueKind;
import ironsieve.model.Verdict;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class QuickRuleTest {

  private static final Parts PARTS =
      new Parts(
          List.of(
              new NamedSet(
                  "Two nets",
                  ValueKind.NETWORK,
                  List.of(ValueText.parse(ValueKind.NETWORK, "10.0.0.1")),
                  "")),
          List.of(),
          List.of(new Notice("Think twice", Verdict.ASK, "Really?")),
          List.of(),
          List.of(),
          Lane.Rates.NONE);

  private static final QuickRule READER = new QuickRule(PARTS, SmallWorld.environment());

  private static String field(Rule rule, String key) {
    return rule.match().field(FieldName.ofKey(key)).map(ValueText::print).orElse("any");
  }

  @Test
  void everyPartFindsItsField() {
    Rule rule =
        READER.parse(
            "reject from Inside 10.0.0.2, set Two nets as group crew ada to Outside"
                + " 192.0.2.0/24 using Mail/send tcp/25 at mon-fri 08:00-18:00");
    assertThat(rule.then().verdict()).isEqualTo(Verdict.REJECT);
    assertThat(field(rule, "from.zones")).isEqualTo("Inside");
    assertThat(field(rule, "from.networks")).contains("10.0.0.2").contains("Two nets");
    assertThat(field(rule, "from.people")).contains("crew").contains("ada");
    assertThat(field(rule, "to.zones")).isEqualTo("Outside");
    assertThat(field(rule, "to.networks")).isEqualTo("192.0.2.0/24");
    assertThat(field(rule, "using.applications")).isEqualTo("Mail/send");
    assertThat(field(rule, "using.services")).isEqualTo("tcp/25");
    assertThat(field(rule, "when.times")).isEqualTo("mon-fri 08:00-18:00");
  }

  @Test
  void anExceptionInsideAFamilyIsOneValue() {
    Rule rule =
        READER.parse("deny from Inside using family Post but not Mail at mon-fri 08:00-18:00");
    assertThat(field(rule, "using.applications")).isEqualTo("family Post but not Mail");
    assertThat(field(rule, "when.times")).isEqualTo("mon-fri 08:00-18:00");
    assertThat(
            field(
                READER.parse("deny using category talk but not Mail nor Chat, Files"),
                "using.applications"))
        .isEqualTo("category talk but not Mail nor Chat, Files");
    assertThatThrownBy(() -> READER.parse("deny using category talk but not Mial"))
        .isInstanceOf(TextException.class)
        .hasMessageContaining("which application of the category talk is left out");
  }

  @Test
  void notTurnsAPartRoundAndANoticeIsNamed() {
    Rule rule = READER.parse("ask Think twice from not Inside using Files");
    assertThat(rule.then().outcome().notice()).contains("Think twice");
    assertThat(field(rule, "from.zones")).isEqualTo("anything but Inside");
    assertThat(READER.parse("deny").match().fields()).isEmpty();
  }

  @Test
  void aRuleIsToldFromAProbe() {
    assertThat(QuickRule.isOne("  Deny from Inside")).isTrue();
    assertThat(QuickRule.isOne("from Inside")).isFalse();
    assertThat(QuickRule.isOne("denyfrom")).isFalse();
  }

  @ParameterizedTest
  @CsvSource({
    "open from Inside, begins with allow",
    "deny from Nowhere, comes after \"from\"",
    "deny from Inside sideways, cannot read",
    "ask Nobody knows, one of: Think twice",
    "deny using, comes after \"using\"",
  })
  void whatCannotBeReadIsSaid(String text, String message) {
    assertThatThrownBy(() -> READER.parse(text))
        .isInstanceOf(TextException.class)
        .hasMessageContaining(message);
  }

  @Test
  void aSingleValueIsAboutTheFieldsItCanStandIn() {
    assertThat(READER.about("10.0.0.0/24").stream().map(m -> m.fields().keySet().iterator().next()))
        .containsExactly(FieldName.FROM_NETWORKS, FieldName.TO_NETWORKS);
    assertThat(READER.about("Mail").stream().map(m -> m.fields().keySet().iterator().next()))
        .containsExactly(FieldName.APPLICATIONS);
    assertThat(READER.about("crew").stream().map(m -> m.fields().keySet().iterator().next()))
        .containsExactly(FieldName.PEOPLE);
    assertThatThrownBy(() -> READER.about("nonsense"))
        .isInstanceOf(TextException.class)
        .hasMessageContaining("nothing known here");
    assertThatThrownBy(() -> READER.about("Mial")).hasMessageContaining("did you mean Mail");
  }

  @Test
  void aMisspeltZoneIsNoHostName() {
    assertThatThrownBy(() -> READER.parse("allow to Outsdie"))
        .isInstanceOf(TextException.class)
        .hasMessageContaining("is no zone, network, host name or list known here")
        .hasMessageContaining("did you mean Outside")
        .hasMessageContaining("site Outsdie");
    assertThat(READER.parse("allow to site intranet").match().fields().get(FieldName.TO_SITES))
        .isNotNull();
    assertThat(READER.parse("allow to shop.example").match().fields().get(FieldName.TO_SITES))
        .isNotNull();
  }

  @Test
  void aQuestionIsTheSentenceWithoutWhatHappens() {
    assertThat(QuickRule.isQuestion("from 10.0.0.0/24 to Outside")).isTrue();
    assertThat(QuickRule.isQuestion("match:10.0.0.1")).isFalse();
    assertThat(READER.question("from 10.0.0.0/24 to Outside using tcp/80").fields())
        .containsOnlyKeys(FieldName.FROM_NETWORKS, FieldName.TO_ZONES, FieldName.SERVICES);
  }
}
