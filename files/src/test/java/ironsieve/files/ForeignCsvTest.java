package ironsieve.files;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.Verdict;
import ironsieve.text.ValueText;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

class ForeignCsvTest {

  private static final String SHEET =
      """
      No.;Rule name;Source;Destination;Service;Action;Enabled;Log;Comment
      1;Web;10.1.0.0 255.255.0.0, 10.2.0.1 - 10.2.0.9;any;http, https;Accept;yes;no;CHG 7
      2;Names;10.1.0.0/16;192.0.2.10;dns;permit;true;yes;
      3;Admin;Admin desks;192.0.2.10, 192.0.2.11;tcp 22;allow;;;
      4;Odd;10.1.0.0/33;192.0.2.10, 192.0.2.11;8080;DROP;no;;old
      5;Rest;*;*;*;silently ignore;yes;;
      """;

  private static ForeignCsv.Read read(String text) {
    return ForeignCsv.read("Sheet", text, Map.of(), Map.of());
  }

  private static String field(Rule rule, FieldName name) {
    return rule.match().field(name).map(ValueText::print).orElse("any");
  }

  @Test
  void aSheetIsReadByWhatItsColumnsAreCalled() {
    ForeignCsv.Read read = read(SHEET);
    assertThat(read.columns().values())
        .extracting(ForeignCsv.Target::word)
        .containsExactly(
            "name",
            "name",
            "from networks",
            "to networks",
            "services",
            "verdict",
            "on or off",
            "logging",
            "note");
    List<Rule> rules = read.rulebase().rules();
    assertThat(rules).hasSize(5);
    Rule web = rules.get(0);
    assertThat(field(web, FieldName.FROM_NETWORKS)).isEqualTo("10.1.0.0/16, 10.2.0.1-10.2.0.9");
    assertThat(field(web, FieldName.TO_NETWORKS)).isEqualTo("any");
    assertThat(field(web, FieldName.SERVICES)).isEqualTo("tcp/80, tcp/443");
    assertThat(web.then().verdict()).isEqualTo(Verdict.ALLOW);
    assertThat(web.then().logging()).isEqualTo(Rule.Logging.NOT_LOGGED);
    assertThat(web.note()).isEqualTo("CHG 7");
    assertThat(field(rules.get(1), FieldName.SERVICES)).isEqualTo("udp/53, tcp/53");
    assertThat(field(rules.get(2), FieldName.FROM_NETWORKS)).isEqualTo("set Admin desks");
  }

  @Test
  void whatIsNotUnderstoodIsToldKeptAndItsRuleIsOff() {
    ForeignCsv.Read read = read(SHEET);
    assertThat(read.notUnderstood())
        .containsExactly(
            "line 5, from network: \"10.1.0.0/33\"", "line 6, verdict: \"silently ignore\"");
    Rule odd = read.rulebase().rules().get(3);
    assertThat(odd.isOn()).isFalse();
    assertThat(odd.note()).contains("old", "10.1.0.0/33");
    assertThat(read.rulebase().rules().get(4).isOn()).isFalse();

    ForeignCsv.Read told =
        ForeignCsv.read("Sheet", SHEET, Map.of(), Map.of("silently ignore", Verdict.DENY));
    assertThat(told.rulebase().rules().get(4).isOn()).isTrue();
    assertThat(told.rulebase().rules().get(4).then().verdict()).isEqualTo(Verdict.DENY);
  }

  @Test
  void theSameAddressesInSeveralPlacesBecomeANamedSet() {
    ForeignCsv.Read read = read(SHEET);
    assertThat(read.rulebase().sets()).hasSize(1);
    assertThat(field(read.rulebase().rules().get(2), FieldName.TO_NETWORKS))
        .isEqualTo("set Addresses 1");
  }

  @Test
  void columnsAreCorrectedByHandAndPortsHaveTheirProtocol() {
    String sheet = "a,b,proto,x\n10.0.0.1,443,udp,block\n10.0.0.2,1000-2000,tcp/udp,pass\n";
    assertThatThrownBy(() -> read(sheet))
        .isInstanceOf(FaultException.class)
        .hasMessageContaining("no column says what happens");
    ForeignCsv.Read read =
        ForeignCsv.read(
            "Sheet",
            sheet,
            Map.of(
                "a", ForeignCsv.Target.FROM_NETWORKS,
                "b", ForeignCsv.Target.SERVICES,
                "x", ForeignCsv.Target.VERDICT),
            Map.of());
    assertThat(read.rulebase().rules())
        .extracting(rule -> field(rule, FieldName.SERVICES))
        .containsExactly("udp/443", "tcp/1000-2000, udp/1000-2000");
    assertThat(read.rulebase().rules())
        .extracting(rule -> rule.then().verdict())
        .containsExactly(Verdict.DENY, Verdict.ALLOW);
  }

  @Test
  void aColumnCalledDisabledMeansTheOtherWayRound() {
    ForeignCsv.Read read = read("source,action,disabled\n10.0.0.1,allow,yes\n10.0.0.2,allow,no\n");
    assertThat(read.rulebase().rules()).extracting(Rule::isOn).containsExactly(false, true);
  }
}
