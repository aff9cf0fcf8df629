package ironsieve.files;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import ironsieve.files.Documents.FieldDoc;
import ironsieve.files.Documents.RuleDoc;
import ironsieve.files.Documents.SetDoc;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.Verdict;
import java.math.BigDecimal;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

class DocumentReaderTest {

  private static RuleDoc rule(Map<String, FieldDoc> fields, String verdict) {
    return new RuleDoc(
        "r", "c", BigDecimal.ONE, null, null, fields, null, verdict, null, null, null, null);
  }

  @Test
  void whatADocumentLeavesOutIsTheUsual() {
    Rule rule = DocumentReader.rule(rule(null, null));
    assertThat(rule.isOn()).isTrue();
    assertThat(rule.match()).isEqualTo(Rule.Match.any());
    assertThat(rule.then()).isEqualTo(new Rule.Then(Verdict.DENY, Rule.Logging.LOGGED));
    assertThat(rule.name()).isEmpty();
  }

  @Test
  void fieldsAreReadWithTheirSense() {
    Rule rule =
        DocumentReader.rule(
            rule(
                Map.of("to.zones", new FieldDoc("is not", List.of("Internet", "Partners"))),
                "reject"));
    Field field = rule.match().field(FieldName.TO_ZONES).orElseThrow();
    assertThat(field.sense()).isEqualTo(Field.Sense.IS_NOT);
    assertThat(field.values()).hasSize(2);
    assertThat(rule.then().verdict()).isEqualTo(Verdict.REJECT);
  }

  @Test
  void everyFaultOfARuleIsToldAtOnceWithItsField() {
    Map<String, FieldDoc> fields = new LinkedHashMap<>();
    fields.put("from.networks", new FieldDoc("is", List.of("10.1.2.3/8")));
    fields.put("using.services", new FieldDoc("is", List.of("tcp/99999")));
    fields.put("to.moon", new FieldDoc("is", List.of("x")));
    fields.put("when.times", new FieldDoc("maybe", List.of("mon")));
    assertThatThrownBy(() -> DocumentReader.rule(rule(fields, "deny")))
        .isInstanceOfSatisfying(
            FaultException.class,
            e ->
                assertThat(e.faults())
                    .extracting(Fault::field)
                    .containsExactly("from.networks", "using.services", "to.moon", "when.times"));
  }

  @Test
  void aWordThatIsNoneOfItsKindIsToldWithThoseThatAre() {
    assertThatThrownBy(() -> DocumentReader.rule(rule(Map.of(), "permit")))
        .hasMessageContaining("\"permit\" is no outcome; outcomes are allow");
  }

  @Test
  void setsNeedANameAndAKindThatHasSets() {
    assertThatThrownBy(() -> DocumentReader.set(new SetDoc("network", " x ", List.of(), "")))
        .hasMessageContaining("without spaces around it");
    assertThatThrownBy(() -> DocumentReader.set(new SetDoc("zone", "x", List.of(), "")))
        .hasMessageContaining("zones have no named sets");
    assertThatThrownBy(() -> DocumentReader.set(new SetDoc("colour", "x", List.of(), "")))
        .hasMessageContaining("colour");
  }

  @Test
  void equalPositionsAreEqualDocuments() {
    RuleDoc one = rule(Map.of(), "deny");
    assertThat(one.at("c", new BigDecimal("10"))).isEqualTo(one.at("c", new BigDecimal("10.00")));
    assertThat(one.at("c", new BigDecimal("1E+1")).position().toString()).isEqualTo("10");
  }
}
