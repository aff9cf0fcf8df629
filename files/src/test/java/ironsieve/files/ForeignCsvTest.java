package ironsieve.files;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.model.Application;
import ironsieve.model.Atlas;
import ironsieve.model.Catalogue;
import ironsieve.model.Directory;
import ironsieve.model.Environment;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.Verdict;
import ironsieve.model.Zone;
import ironsieve.region.Address;
import ironsieve.region.Range;
import ironsieve.text.ValueText;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

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
    return ForeignCsv.read("Sheet", text, Map.of(), Map.of(), OwnWords.NONE);
  }

  /** Somebody's own network, in which a source is called by its zone, its group or its list. */
  private static OwnWords ownWords() {
    Range<Address> some = new Range<>(Address.parse("192.0.2.0"), Address.parse("192.0.2.9"));
    return OwnWords.of(
        new Environment(
            List.of(
                new Zone("Büro", Zone.Side.INSIDE, List.of(), ""),
                new Zone("Internet", Zone.Side.OUTSIDE, List.of(), "")),
            new Directory(List.of(), List.of(new Directory.Group("Einkauf", Set.of(), ""))),
            List.of(),
            new Catalogue(
                1,
                List.of(
                    new Application(
                        "Chatterbay",
                        new Application.Grouping("social", "Talk", "Bay"),
                        new Application.Worth(
                            Application.Exposure.SLIGHT, Application.WorkValue.NONE),
                        List.of(),
                        new Application.Wiring(
                            Application.Content.PLAIN, List.of(), List.of(), List.of()),
                        ""))),
            new Atlas(Map.of(), Map.of("Partner", List.of(some)), Map.of(), List.of()),
            LocalDate.of(2026, 12, 1)));
  }

  @Test
  void namesOfOnesOwnNetworkAreKnownInTheColumnsTheyStandIn() {
    ForeignCsv.Read read =
        ForeignCsv.read(
            "Sheet",
            """
            Nr;Name;Source;Destination;Service;Action
            1;Surfen;büro;Internet;tcp/443;allow
            2;Chat;Einkauf;any;Chatterbay;allow
            3;Partner herein;Partner;Büro;ssh;deny
            4;Beides;Büro, 10.1.0.0/16;Internet;tcp/22;allow
            5;Fremd;Lager;Internet;tcp/22;allow
            """,
            Map.of(),
            Map.of(),
            ownWords());
    List<Rule> rules = read.rulebase().rules();
    assertThat(rules)
        .extracting(Rule::name)
        .containsExactly("Surfen", "Chat", "Partner herein", "Beides", "Fremd");
    assertThat(field(rules.get(0), FieldName.FROM_ZONES)).isEqualTo("Büro");
    assertThat(field(rules.get(0), FieldName.TO_ZONES)).isEqualTo("Internet");
    assertThat(field(rules.get(0), FieldName.FROM_NETWORKS)).isEqualTo("any");
    assertThat(field(rules.get(1), FieldName.PEOPLE)).isEqualTo("group Einkauf");
    assertThat(field(rules.get(1), FieldName.APPLICATIONS)).isEqualTo("Chatterbay");
    assertThat(field(rules.get(1), FieldName.SERVICES)).isEqualTo("any");
    assertThat(field(rules.get(2), FieldName.FROM_NETWORKS)).isEqualTo("list Partner");
    assertThat(field(rules.get(2), FieldName.TO_ZONES)).isEqualTo("Büro");
    assertThat(field(rules.get(2), FieldName.SERVICES)).isEqualTo("tcp/22");
    // A zone or else a network: one rule cannot say that, so it is off and says why.
    assertThat(rules.get(3).isOn()).isFalse();
    assertThat(rules.get(3).note()).contains("names of different kinds");
    assertThat(field(rules.get(4), FieldName.FROM_NETWORKS)).isEqualTo("set Lager");
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
        ForeignCsv.read(
            "Sheet", SHEET, Map.of(), Map.of("silently ignore", Verdict.DENY), OwnWords.NONE);
    assertThat(told.rulebase().rules().get(4).isOn()).isTrue();
    assertThat(told.rulebase().rules().get(4).then().verdict()).isEqualTo(Verdict.DENY);
  }

  /** A rule that was off must never be brought in on: each word under each name of a column. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "Enabled|yes,Yes,true,TRUE,1,on,x,X,enabled,active,''|no,No,false,0,off,disabled,inactive",
        "Active|yes,true,1,on,x,active,''|no,false,0,off,inactive,disabled",
        "Status|on,enabled,active,yes,''|off,disabled,inactive,no",
        "State|on,enabled,active,''|off,disabled,inactive",
        "Disabled|no,false,0,enabled,active,on,''|yes,true,1,x,disabled,off,inactive",
        "Inactive|no,false,0,active,enabled,''|yes,true,1,x,inactive,disabled",
        "Aktiv|ja,wahr,aktiv,1,x,ein,''|nein,falsch,inaktiv,deaktiviert,aus,0",
        "Deaktiviert|nein,aktiv,aktiviert,''|ja,x,deaktiviert,inaktiv",
        "Actif|oui,vrai,actif,activ\u00e9,''|non,faux,inactif,d\u00e9sactiv\u00e9",
        "D\u00e9sactiv\u00e9|non,faux,''|oui,x,d\u00e9sactiv\u00e9",
        "Habilitado|s\u00ed,verdadero,activo,''|no,falso,inactivo,deshabilitado",
        "Desactivado|no,activo,''|s\u00ed,x,desactivado",
        "W\u0142\u0105czony|tak,prawda,w\u0142\u0105czony,''|nie,fa\u0142sz,wy\u0142\u0105czony",
        "Wy\u0142\u0105czony|nie,''|tak,x,wy\u0142\u0105czony"
      })
  void aRuleIsOnOrOffAsItsTableSays(String column, String on, String off) {
    for (String word : on.replace("''", "").split(",", -1)) {
      assertThat(onByTable(column, word)).as("%s: %s", column, word).isTrue();
    }
    for (String word : off.replace("''", "").split(",", -1)) {
      assertThat(onByTable(column, word)).as("%s: %s", column, word).isFalse();
    }
    ForeignCsv.Read odd = read("Source;Action;" + column + "\n10.0.0.1;allow;perhaps\n");
    assertThat(odd.rulebase().rules().get(0).isOn()).isFalse();
    assertThat(odd.notUnderstood()).containsExactly("line 2, " + column + ": \"perhaps\"");
  }

  private static boolean onByTable(String column, String word) {
    ForeignCsv.Read read = read("Source;Action;" + column + "\n10.0.0.1;allow;" + word + "\n");
    assertThat(read.columns()).containsEntry(column, ForeignCsv.Target.STATE);
    assertThat(read.notUnderstood()).isEmpty();
    return read.rulebase().rules().get(0).isOn();
  }

  @Test
  void aTableWithGermanHeadingsIsUnderstood() {
    ForeignCsv.Read read =
        read(
            "Nr;Quelle;Ziel;Dienst;Aktion;Kommentar\n1;10.0.0.1;any;https;erlauben;f\u00fcr alle\n");
    assertThat(read.columns().values()).doesNotContain(ForeignCsv.Target.NOTHING);
    assertThat(read.notUnderstood()).isEmpty();
    assertThat(read.rulebase().rules().get(0).then().verdict()).isEqualTo(Verdict.ALLOW);
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
    ForeignCsv.Read guessed = read(sheet);
    assertThat(guessed.notUnderstood().get(0)).contains("no column says what happens");
    assertThat(guessed.rulebase().rules()).hasSize(2).noneMatch(Rule::isOn);
    ForeignCsv.Read read =
        ForeignCsv.read(
            "Sheet",
            sheet,
            Map.of(
                "a", ForeignCsv.Target.FROM_NETWORKS,
                "b", ForeignCsv.Target.SERVICES,
                "x", ForeignCsv.Target.VERDICT),
            Map.of(),
            OwnWords.NONE);
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
