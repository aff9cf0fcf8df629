package ironsieve.files;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.networknt.schema.JsonSchema;
import com.networknt.schema.JsonSchemaFactory;
import com.networknt.schema.SpecVersion;
import ironsieve.compile.CompiledRulebase;
import ironsieve.decide.Decider;
import ironsieve.files.AccessList.Direction;
import ironsieve.model.Connection;
import ironsieve.model.Environment;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Verdict;
import ironsieve.region.Address;
import ironsieve.text.ProbeText;
import ironsieve.text.RulebaseFile;
import ironsieve.text.RulebaseReader;
import ironsieve.text.RulebaseWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class FormatsTest {

  private static final ObjectMapper JSON = new ObjectMapper();
  private static final Environment HERE = Demo.folder().environment(LocalDate.of(2026, 11, 23));

  @Test
  void jsonInTheWordsOfOlderFilesIsStillRead() {
    String old =
        """
        {"name": "x", "lastLine": "deny", "capacity": {"there": 9, "back": 8},
         "reading": [{"id": "a", "decision": "open"}, {"id": "b", "decision": "leave"}],
         "chapters": [{"id": "c", "title": "C", "rules": [{"id": "r", "verdict": "deny",
           "logging": "quiet", "kept": {"owner": "net"}}]}]}
        """;
    String now =
        old.replace("lastLine", "defaultVerdict")
            .replace("there", "up")
            .replace("back", "down")
            .replace("reading", "decryption")
            .replace("open", "decrypt")
            .replace("leave", "leave encrypted")
            .replace("quiet", "not logged")
            .replace("kept", "metadata");
    assertThat(RulebaseJson.read(old)).isEqualTo(RulebaseJson.read(now));
    assertThat(RulebaseJson.write(RulebaseJson.read(old)))
        .contains("defaultVerdict", "leave encrypted", "not logged", "\"owner\" : \"net\"")
        .doesNotContain("lastLine", "quiet", "kept", "there");
  }

  @Test
  void theDemoIsWrittenTheOneWayItIsWritten() {
    assertThat(RulebaseWriter.write(RulebaseReader.read(Demo.text()))).isEqualTo(Demo.text());
  }

  @Test
  void theDemoFolderIsReadWhole() {
    assertThat(HERE.catalogue().edition()).isEqualTo(41);
    assertThat(Demo.folder().catalogue(42).application("Fenwick Whiteboard")).isPresent();
    assertThat(HERE.atlas().countries().get("XA")).hasSizeGreaterThan(2);
    assertThat(HERE.atlas().lists().get("Known scanners")).hasSize(3);
    assertThat(HERE.atlas().category("press.chatterbay.example")).isEqualTo("news");
    assertThat(HERE.atlas().category("www.chatterbay.example")).isEqualTo("social");
    assertThat(HERE.atlas().category("else.example")).isEqualTo("uncategorised");
    assertThat(Demo.folder().promises("main-gateway")).hasSize(12);
  }

  @Test
  void jsonIsReadBackAlikeAndFitsItsSchema() throws Exception {
    Rulebase rulebase = Demo.rulebase();
    String json = RulebaseJson.write(rulebase);
    assertThat(RulebaseJson.read(json)).isEqualTo(rulebase);
    JsonSchema schema =
        JsonSchemaFactory.getInstance(SpecVersion.VersionFlag.V202012)
            .getSchema(Files.readString(Path.of("../docs/rulebase.schema.json")));
    assertThat(schema.validate(JSON.readTree(json))).isEmpty();
    assertThat(
            schema.validate(
                JSON.readTree(
                    json.replace(
                        "\"defaultVerdict\" : \"deny\"", "\"defaultVerdict\" : \"permit\""))))
        .isNotEmpty();
    assertThat(schema.validate(JSON.readTree(json.replace("\"from.zones\"", "\"from.moons\""))))
        .isNotEmpty();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "{ | end-of-input",
        "{} | a rulebase has at least a name",
        "{\"name\": \" x \", \"defaultVerdict\": \"deny\", \"chapters\": []} | no spaces around it",
        "{\"name\": \"x\", \"name\": \"y\"} | stands here twice",
        "{\"name\": \"x\", \"defaultVerdict\": \"permit\", \"chapters\": []} | none of allow",
        "{\"colour\": 1} | colour",
        "{\"name\": \"x\", \"defaultVerdict\": \"deny\", \"chapters\": [{\"id\": \"c\", \"title\": \"C\", \"rules\": [{\"verdict\": \"deny\"}]}]} | id of its own"
      })
  void jsonThatCannotBeReadIsRefused(String text, String hint) {
    assertThatThrownBy(() -> RulebaseJson.read(text))
        .isInstanceOf(FaultException.class)
        .hasMessageContaining(hint);
  }

  @Test
  void aSpreadsheetHasALineForEveryRule() {
    List<String> lines = RuleCsv.write(Demo.rulebase()).lines().toList();
    assertThat(lines).hasSizeGreaterThanOrEqualTo(61);
    assertThat(lines.get(0)).startsWith("number,chapter,id,name,state,from zones");
    assertThat(lines.get(1)).startsWith("1,The gateway itself,gw-admin,");
    assertThat(RuleCsv.write(Demo.rulebase())).contains("not: group Management");
  }

  @Test
  void whatAnAccessListCannotCarryIsSaidRuleByRule() {
    AccessList.Written written = AccessList.write(Demo.rulebase(), HERE);
    assertThat(written.left())
        .contains(
            new AccessList.Left("gw-admin", "from.people", Direction.WIDER),
            new AccessList.Left("wf-guest", "usage sheet", Direction.ACTION));
    assertThat(written.left()).extracting(AccessList.Left::rule).doesNotContain("bk-db", "gw-rest");
  }

  private static final String PLAIN =
      """
      rulebase "plain"
        default verdict reject

      chapter c "All"
      rule a
        from networks: 10.20.0.5-10.20.0.17; 2001:db8:20::/64
        to zones not: Internet
        using services: tcp/443; udp/5000-5100; icmp/8; icmpv6/1.4
        then: allow
      rule b
        from zones: Offices; Ships
        from networks not: 10.20.1.0/24
        to networks: country XA; list Known scanners
        then: deny
      rule c
        to zones: Booking DMZ
        using services not: tcp
        then: allow
      """;

  @Test
  void anAccessListDecidesAsTheRulebaseDoesWhereItCarriesAll() throws Exception {
    Rulebase rulebase = RulebaseReader.read(PLAIN).rulebase();
    AccessList.Written written = AccessList.write(rulebase, HERE);
    assertThat(written.left()).isEmpty();
    JsonNode lists = JSON.readTree(written.json()).at("/ietf-access-control-list:acls/acl");
    Decider decider = new Decider(CompiledRulebase.of(rulebase, HERE));
    assertThat(RulebaseFormat.guess(written.json())).isEqualTo("acl");
    Rulebase back = RulebaseFormat.ACCESS_LIST.read("Back", written.json()).rulebase();
    // Entries are put together again: a rule for each IP version, and the default verdict.
    assertThat(back.chapters()).hasSize(2);
    assertThat(back.rules().size()).isLessThan(2 * rulebase.rules().size() + 3);
    Decider readBack = new Decider(CompiledRulebase.of(back, HERE));
    ProbeText probes = new ProbeText(HERE);
    Random random = new Random(5);
    List<String> froms =
        List.of(
            "10.20.0.4",
            "10.20.0.5",
            "10.20.0.17",
            "10.20.0.18",
            "10.20.1.9",
            "10.50.0.1",
            "2001:db8:20::7",
            "2001:db8:20:1::7",
            "203.0.113.130");
    List<String> tos =
        List.of(
            "192.0.2.40",
            "203.0.113.7",
            "203.0.113.66",
            "8.8.8.8",
            "2001:db8:70::40",
            "2001:db8:a000::1",
            "198.51.100.9",
            "10.80.1.1");
    List<String> services =
        List.of(
            "tcp/443",
            "tcp/80",
            "udp/5000",
            "udp/5101",
            "icmp/8.0",
            "icmp/0.0",
            "icmpv6/1.4",
            "icmpv6/1.3",
            "ip/47");
    int tried = 0;
    for (int i = 0; i < 600; i++) {
      String from = froms.get(random.nextInt(froms.size()));
      String to = tos.get(random.nextInt(tos.size()));
      String service = services.get(random.nextInt(services.size()));
      boolean six = from.contains(":");
      boolean fits =
          six == to.contains(":")
              && !(service.startsWith("icmp/") && six)
              && !(service.startsWith("icmpv6") && !six);
      if (fits) {
        Connection connection =
            probes
                .parse(
                    "from " + from + " to " + to + " using " + service + " at tue 10:00",
                    LocalDateTime.of(2026, 11, 23, 9, 0))
                .connection();
        assertThat(forwarding(lists.get(six ? 1 : 0), connection))
            .as("%s", ProbeText.print(connection))
            .isEqualTo(word(decider.verdict(connection)));
        assertThat(readBack.verdict(connection))
            .as("%s", ProbeText.print(connection))
            .isEqualTo(decider.verdict(connection));
        tried++;
      }
    }
    assertThat(tried).isGreaterThan(100);
  }

  /** As another product may have written it. */
  private static final String FOREIGN =
      """
      {"ietf-access-control-list:acls": {"acl": [{"name": "edge", "aces": {"ace": [
        {"name": "web-1", "matches": {
          "ipv4": {"destination-ipv4-network": "192.0.2.40/32"},
          "tcp": {"destination-port": {"operator": "neq", "port": 22}}},
         "actions": {"forwarding": "accept", "logging": "log-syslog"}},
        {"name": "odd", "matches": {
          "ipv4": {"dscp": 46}, "udp": {"source-port": {"operator": "eq", "port": 53}}},
         "actions": {"forwarding": "ietf-access-control-list:reject"}},
        {"name": "ping", "matches": {"ipv6": {}, "icmp": {"type": 128, "code": 0}},
         "actions": {"forwarding": "accept"}},
        {"name": "rest", "actions": {"forwarding": "drop"}}
      ]}}]}}
      """;

  @Test
  void aForeignAccessListIsReadAsNothingMoreOrLess() {
    Rulebase read = RulebaseFormat.ACCESS_LIST.read("Edge", FOREIGN).rulebase();
    assertThat(RulebaseWriter.write(RulebaseFile.of(read)).lines().map(String::strip).toList())
        .containsSubsequence(
            "rule web \"web\"",
            "from networks: 0.0.0.0/0",
            "to networks: 192.0.2.40",
            "using services: tcp/0-21; tcp/23-65535",
            "then: allow")
        .containsSubsequence("using services: icmpv6/128.0", "then: allow", "not logged")
        .containsSubsequence("rule rest \"rest\"", "then: deny", "not logged");
    assertThat(read.rules().get(1).isOn()).isFalse();
    assertThat(read.rules().get(1).metadata().note())
        .isEqualTo("Off: its entry also asks for dscp, udp source-port, which rules here cannot.");
    assertThat(read.rules().get(3).match().fields()).isEmpty();
  }

  @Test
  void anAccessListThatCannotBeReadSaysWhichEntryAndWhatWouldBeRight() {
    Map<String, String> wrong =
        Map.of(
            FOREIGN.replace("drop", "explode"), "entry rest: \"explode\" is none of",
            FOREIGN.replace("192.0.2.40/32", "192.0.2.400/32"), "entry web-1: ",
            FOREIGN.replace("neq", "about"), "an operator is eq, neq, lte or gte",
            FOREIGN.replace("\"ace\"", "\"aces\""), "a list has \"ace\"");
    wrong.forEach(
        (text, why) ->
            assertThatThrownBy(() -> RulebaseFormat.ACCESS_LIST.read("Edge", text))
                .isInstanceOf(FaultException.class)
                .hasMessageContaining(why));
  }

  private static String word(Verdict verdict) {
    String word = verdict == Verdict.ALLOW ? "accept" : verdict == Verdict.DENY ? "drop" : "reject";
    return "ietf-access-control-list:" + word;
  }

  /** Walks a list as its standard says, entry by entry. */
  private static String forwarding(JsonNode list, Connection c) {
    for (JsonNode entry : list.at("/aces/ace")) {
      if (matches(entry.path("matches"), c)) {
        return entry.at("/actions/forwarding").asText();
      }
    }
    throw new AssertionError("the last entry matches everything");
  }

  private static boolean matches(JsonNode matches, Connection c) {
    String version = c.to().address().version() == Address.Version.V4 ? "ipv4" : "ipv6";
    JsonNode ip = matches.path(version);
    if (!matches.isMissingNode()
        && (!within(ip.get("source-" + version + "-network"), c.from().place().address())
            || !within(ip.get("destination-" + version + "-network"), c.to().address()))) {
      return false;
    }
    if (ip.has("protocol") && ip.get("protocol").asInt() != c.service().protocol()) {
      return false;
    }
    int detail = c.service().detail();
    JsonNode port =
        matches.path(c.service().protocol() == 6 ? "tcp" : "udp").path("destination-port");
    if (port.has("port") && port.get("port").asInt() != detail) {
      return false;
    }
    if (port.has("lower-port")
        && (detail < port.get("lower-port").asInt() || detail > port.get("upper-port").asInt())) {
      return false;
    }
    JsonNode icmp = matches.path("icmp");
    return !icmp.has("type")
        || (icmp.get("type").asInt() == detail >> 8
            && (!icmp.has("code") || icmp.get("code").asInt() == (detail & 255)));
  }

  private static boolean within(JsonNode prefix, Address address) {
    String[] parts = prefix.asText().split("/");
    int bits = Integer.parseInt(parts[1]);
    return address.lowest(bits).equals(Address.parse(parts[0]).lowest(bits));
  }

  /**
   * A chapter that is named again further down is another run of rules: no rule may change place.
   */
  @Test
  void rulesKeepTheirOrderWhereAChapterIsNamedAgain() {
    String csv = "chapter,id,then\r\nWeb,a,allow\r\nAdmin,b,deny\r\nWeb,c,allow\r\nWeb,d,deny\r\n";
    Rulebase read = RuleCsv.read("Sheet", csv);
    assertThat(read.rules()).extracting(Rule::id).containsExactly("a", "b", "c", "d");
    assertThat(read.chapters())
        .extracting(chapter -> chapter.title() + chapter.rules().size())
        .containsExactly("Web1", "Admin1", "Web2");
    assertThat(RuleCsv.read("Sheet", RuleCsv.write(read))).isEqualTo(read);
  }

  @Test
  void anAccessListComesBackWithoutARuleMoreAndWithNamesTheStandardAllows() {
    String text =
        "rulebase \"x\"\n  last line reject\nchapter c \"C\"\nrule "
            + "a".repeat(100)
            + "\n  from networks: 10.0.0.1\n  to networks: 192.0.2.1\n"
            + "  using services: tcp/443\n  then: allow\nrule "
            + "a".repeat(99)
            + "b\n  from networks: 10.0.0.2\n  to networks: 192.0.2.1\n"
            + "  using services: tcp/443\n  then: allow\n";
    String json =
        AccessList.write(
                RulebaseReader.read(text).rulebase(),
                Demo.folder().environment(java.time.LocalDate.of(2026, 11, 24)))
            .json();
    assertThat(json.lines().filter(line -> line.contains("\"name\"")))
        .allMatch(line -> line.replaceAll(".*: \"|\",?$", "").length() <= 64);
    Rulebase back = RulebaseFormat.ofFile("x.acl.json", json).read("x.acl.json", json).rulebase();
    assertThat(back.name()).isEqualTo("x");
    assertThat(back.defaultVerdict()).isEqualTo(Verdict.REJECT);
    assertThat(back.rules()).hasSize(2);
  }
}
