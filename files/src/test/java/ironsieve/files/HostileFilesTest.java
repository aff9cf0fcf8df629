package ironsieve.files;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import ironsieve.model.Environment;
import ironsieve.model.Rulebase;
import ironsieve.text.FileTextException;
import ironsieve.text.RulebaseFile;
import ironsieve.text.RulebaseReader;
import ironsieve.text.RulebaseWriter;
import ironsieve.text.SourceText;
import ironsieve.text.ValueText;
import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * Files as they come from elsewhere: what is wrong is said with its place, and what is fine is
 * read.
 */
class HostileFilesTest {

  private static final LocalDate DAY = LocalDate.of(2026, 11, 23);

  private static Map<String, String> company() {
    Map<String, String> files = new HashMap<>();
    files.put(
        "company.json",
        """
        {"name": "Kleines Kontor", "edition": 1, "editions": [1], "lists": ["Bad"],
         "deviceKinds": ["laptop"],
         "zones": [{"name": "In", "side": "inside", "networks": ["10.0.0.0/8"], "note": ""},
                   {"name": "Out", "side": "outside", "networks": [], "note": ""}]}
        """);
    files.put("directory/groups.csv", "name,inside,note\ncrew,,\ndeck,crew,\n");
    files.put("directory/people.csv", "login,name,groups,attributes\nada,Ada,deck,port=A\n");
    files.put(
        "catalogue/edition-1.csv",
        "name,category,family,provider,exposure,work value,content,usual ports,rides on,needs,"
            + "features,description\nMail,talk,,P,slight,some,plain,tcp/25,,,,\n");
    files.put("atlas/hosts.csv", "host,addresses\nshop.example,203.0.113.7\n");
    files.put("atlas/sites.csv", "names,category\n*.shop.example,trade\n");
    files.put("atlas/geofeed.csv", "# feed\n203.0.113.0/24,XA,,,\n");
    files.put("atlas/lists/Bad.txt", "198.51.100.7\n");
    return files;
  }

  private static Environment read(Map<String, String> files) {
    return new CompanyFolder(
            path ->
                Optional.ofNullable(files.get(path))
                    .map(text -> new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8))))
        .environment(DAY);
  }

  static Stream<Arguments> brokenFiles() {
    return Stream.of(
        Arguments.of("company.json", "{}", "company.json", "a name is missing"),
        Arguments.of("company.json", "[]", "company.json, line 1", "not the kind of value"),
        Arguments.of("company.json", "{\"name\": \"x\", \"colour\": 1}", "line 1", "no member"),
        Arguments.of("company.json", "", "company.json", "this ends too early"),
        Arguments.of(
            "directory/people.csv",
            "login,name,groups,attributes\nada,Ada,ghosts,\n",
            "directory/people.csv, line 2",
            "no group \"ghosts\""),
        Arguments.of(
            "directory/people.csv",
            "login,name,groups,attributes\nada,Ada,,\nben,Ben,,\nada,Eve,,\n",
            "directory/people.csv, line 4",
            "stands here twice"),
        Arguments.of(
            "directory/people.csv",
            "login,name,groups,attributes\n ada,Ada,,\n",
            "directory/people.csv, line 2",
            "no spaces around"),
        Arguments.of(
            "directory/people.csv",
            "login,name,groups,attributes\nada,Ada,,port\n",
            "line 2",
            "no attribute"),
        Arguments.of(
            "directory/people.csv", "login,name\nada,Ada\n", "line 2", "\"groups\" is missing"),
        Arguments.of(
            "directory/people.csv",
            "login,name,groups,attributes\nada,\"Ada,,\n",
            "directory/people.csv",
            "not CSV"),
        Arguments.of(
            "directory/groups.csv",
            "name,inside,note\ncrew,fleet,\n",
            "directory/groups.csv, line 2",
            "no group \"fleet\""),
        Arguments.of(
            "atlas/sites.csv",
            "names,category\nshop.example,a\nshop.example,b\n",
            "atlas/sites.csv, line 3",
            "twice"),
        Arguments.of(
            "atlas/geofeed.csv",
            "203.0.113.0/24,xa,,,\n",
            "atlas/geofeed.csv, line 1, column 16",
            "two capital letters"),
        Arguments.of(
            "atlas/geofeed.csv",
            "# c\n203.0.113.0/99,XA\n",
            "atlas/geofeed.csv, line 2, column 1",
            "number from 0 to 32"),
        Arguments.of("atlas/geofeed.csv", "203.0.113.0/24\n", "line 1", "is no country"),
        Arguments.of(
            "atlas/geofeed.csv",
            "203.0.113.0/24,XA\n203.0.113.0/24,XB\n",
            "line 2",
            "as XA and as XB"),
        Arguments.of(
            "atlas/lists/Bad.txt",
            "198.51.100.7\nnonsense\n",
            "atlas/lists/Bad.txt, line 2",
            "not an IPv4 or IPv6 address"),
        Arguments.of(
            "atlas/hosts.csv",
            "host,addresses\nshop.example,10.0.0.999\n",
            "atlas/hosts.csv, line 2",
            "not an IPv4"),
        Arguments.of(
            "catalogue/edition-1.csv",
            company().get("catalogue/edition-1.csv").replace("tcp/25", "tcp/99999"),
            "catalogue/edition-1.csv, line 2",
            "number from 0 to 65535"),
        Arguments.of(
            "catalogue/edition-1.csv",
            company().get("catalogue/edition-1.csv").replace("slight", "mild"),
            "catalogue/edition-1.csv, line 2",
            "is none of slight"),
        Arguments.of(
            "company.json",
            company().get("company.json").replace("\"Out\"", "\"In\""),
            "company.json",
            "zone \"In\" stands here twice"),
        Arguments.of(
            "company.json",
            company().get("company.json").replace("\"Out\"", "\"O\\u202Eut\""),
            "company.json",
            "writing direction"));
  }

  @ParameterizedTest
  @MethodSource("brokenFiles")
  void aBrokenFileIsToldByItsPlace(String file, String text, String place, String hint) {
    Map<String, String> files = company();
    files.put(file, text);
    assertThatThrownBy(() -> read(files))
        .isInstanceOf(FaultException.class)
        .satisfies(
            e -> {
              String said = ((FaultException) e).faults().get(0).sentence();
              assertThat(said).contains(place).contains(hint).doesNotContain("ironsieve.");
              assertThat(said).doesNotContain("Exception").doesNotContain("com.fasterxml");
            });
  }

  @Test
  void aByteOrderMarkAndWindowsLineEndsAreSimplyRead() {
    Map<String, String> files = company();
    files.replaceAll((path, text) -> '\uFEFF' + text.replace("\n", "\r\n"));
    assertThat(read(files).zones()).isEqualTo(read(company()).zones());
    assertThat(read(files).atlas()).isEqualTo(read(company()).atlas());
    assertThat(read(files).directory().person("ada").orElseThrow().groups())
        .containsExactly("deck");
    assertThat(read(files).catalogue().applications())
        .isEqualTo(read(company()).catalogue().applications());
    String rules = Demo.text();
    assertThat(RulebaseReader.read('\uFEFF' + rules.replace("\n", "\r\n")).rulebase())
        .isEqualTo(Demo.rulebase());
  }

  @Test
  void bytesThatAreNotUtf8AreToldByLineAndColumn() {
    byte[] latin = "rulebase \"Überall\"\n  last line deny\n".getBytes(StandardCharsets.ISO_8859_1);
    assertThatThrownBy(() -> SourceText.read(latin))
        .isInstanceOf(FileTextException.class)
        .hasMessage(
            "line 1, column 11: this is not UTF-8 (the byte 0xDC here is part of no character); save"
                + " the file as UTF-8");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "rulebase \"x\\u0000y\" | line 1, column 12 | U+0000 is a control character",
        "rulebase \"x\\u202Ey\" | line 1, column 12 | writing direction",
        "rulebase \" x\" | line 1, column 10 | no spaces around",
        "rulebase\\u00A0\"x\" | line 1, column 9 | no-break space (U+00A0)",
      })
  void charactersThatCannotBeSeenAreRefused(String text, String place, String hint) {
    String real = text;
    for (String code : new String[] {"0000", "202E", "00A0"}) {
      real = real.replace("\\u" + code, String.valueOf((char) Integer.parseInt(code, 16)));
    }
    String hostile = real;
    assertThatThrownBy(() -> RulebaseReader.read(hostile))
        .isInstanceOf(FileTextException.class)
        .hasMessageContaining(place)
        .hasMessageContaining(hint);
  }

  @Test
  void aForeignAlphabetIsAsGoodAsAnyOther() {
    String text =
        "rulebase \"Порт Łódź 港\"\n  default verdict deny\n\nchapter c \"Ночь\"\n\nrule a \"Ωρες\"\n"
            + "  note почему\u00A0бы и нет 🚢\n  then: allow\n";
    assertThat(RulebaseWriter.write(RulebaseReader.read(text))).isEqualTo(text);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "  then: deny;  then: allow | line 6, column 3 | then stands here twice",
        "  quiet;  quiet;  then: deny | line 6, column 3 | not logged stands here twice",
        "  review by 2027-01-31;  review by 2027-02-28;  then: deny | line 6 | review by stands",
      })
  void whatStandsThereTwiceIsRefused(String members, String place, String hint) {
    String text =
        "rulebase \"x\"\n  last line deny\nchapter c \"C\"\nrule a\n  "
            + members.strip().replace(";", "\n");
    assertThatThrownBy(() -> RulebaseReader.read(text))
        .hasMessageContaining(place)
        .hasMessageContaining(hint);
    assertThatThrownBy(
            () -> RulebaseReader.read("rulebase \"x\"\n  last line deny\n  last line allow\n"))
        .hasMessageContaining("line 3, column 3: default verdict stands here twice");
  }

  @Test
  void jsonKeepsComments() {
    String text = "# one\n" + Demo.text() + "\n# the end\n";
    RulebaseFile file = RulebaseReader.read(text);
    RulebaseFile back = RulebaseJson.file(RulebaseJson.write(file));
    assertThat(back).isEqualTo(file);
    assertThat(RulebaseWriter.write(back)).isEqualTo(RulebaseWriter.write(file));
  }

  @Test
  void rulesComeBackFromASpreadsheet() {
    Rulebase demo = Demo.rulebase();
    Rulebase back = RuleCsv.read("back", RuleCsv.write(demo));
    assertThat(back.rules()).isEqualTo(demo.rules());
    assertThatThrownBy(() -> RuleCsv.read("x", "id,then,colour\na,allow,red\n"))
        .hasMessageContaining("no column \"colour\"");
    assertThatThrownBy(() -> RuleCsv.read("x", "id,then\na,permit\n"))
        .isInstanceOf(FaultException.class)
        .hasMessageContaining("rules, line 2")
        .hasMessageContaining("outcomes are allow");
  }

  @ParameterizedTest
  @ValueSource(strings = {"=1+1", "+x", "-x", "@x", "'=x", "''=x", "'plain", "plain", "a=b", "\tx"})
  void aCellThatASpreadsheetWouldRunIsWrittenSoThatItDoesNot(String cell) {
    assertThat(CsvCells.format(cell).substring(0, 1)).doesNotMatch("[=+@-]");
    assertThat(CsvCells.read(CsvCells.format(cell))).isEqualTo(cell);
  }

  @Test
  void anAccessListSaysInWhichDirectionItMisses() {
    Environment here = Demo.folder().environment(DAY);
    String rules =
        "rulebase \"x\"\n  last line deny\nchapter c \"C\"\n"
            + "rule a\n  to networks: host www.saltmere.example\n  then: allow\n"
            + "rule b\n  using services: sctp/5000-5100\n  then: allow\n";
    assertThat(AccessList.write(RulebaseReader.read(rules).rulebase(), here).left())
        .extracting(AccessList.Left::rule, AccessList.Left::direction)
        .containsExactly(
            org.assertj.core.groups.Tuple.tuple("a", AccessList.Direction.NARROWER),
            org.assertj.core.groups.Tuple.tuple("b", AccessList.Direction.WIDER));
    Map<String, String> files = company();
    files.put(
        "company.json",
        files.get("company.json").replace("\"networks\": []", "\"networks\": [\"10.0.0.0/8\"]"));
    String toInside =
        "rulebase \"x\"\n  last line deny\nchapter c \"C\"\nrule a\n  to zones: Out\n  then: allow\n";
    assertThat(AccessList.write(RulebaseReader.read(toInside).rulebase(), read(files)).left())
        .singleElement()
        .satisfies(left -> assertThat(left.sentence()).contains("behind In too", "match more"));
  }

  @Test
  void anAccessListThatFitsNowhereIsRefused() {
    Environment here = Demo.folder().environment(DAY);
    String rules =
        "rulebase \"x\"\n  last line deny\nchapter c \"C\"\nrule a\n"
            + "  from networks not: 10.1.2.3; 10.99.7.1; 172.16.5.9\n"
            + "  to networks not: 10.3.2.1; 192.0.2.77; 198.51.100.1\n"
            + "  using services not: tcp/443; udp/53\n  then: allow\n";
    assertThatThrownBy(() -> AccessList.write(RulebaseReader.read(rules).rulebase(), here))
        .isInstanceOf(FaultException.class)
        .hasMessageContaining("rule a")
        .hasMessageContaining("fewer negated fields");
  }

  @Test
  void whatIsSaidTwiceIsWrittenOnce() {
    assertThat(
            RulebaseWriter.write(
                RulebaseReader.read(
                    "rulebase \"x\"\n  last line deny\n\nchapter c \"C\"\n\nrule a\n"
                        + "  using services: tcp; ip/6\n  then: allow\n")))
        .contains("  using services: tcp\n");
    assertThat(ValueText.parse(ironsieve.model.ValueKind.SERVICE, "ip/6"))
        .isEqualTo(ValueText.parse(ironsieve.model.ValueKind.SERVICE, "tcp"));
  }
}
