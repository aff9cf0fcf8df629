package ironsieve.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class MainTest {

  private static final String DEMO = "../demo/rulebases/main-gateway.rules";
  @TempDir private Path folder;
  private String out;
  private String err;

  private int run(String... arguments) {
    List<String> all = new ArrayList<>(List.of(arguments));
    if (!arguments[0].equals("fmt")) {
      all.addAll(List.of("--company", "../demo", "--day", "2026-11-23"));
    }
    StringWriter said = new StringWriter();
    StringWriter complained = new StringWriter();
    int status =
        Main.run(new PrintWriter(said), new PrintWriter(complained), all.toArray(String[]::new));
    out = said.toString();
    err = complained.toString();
    return status;
  }

  private String file(String name, String text) throws IOException {
    return Files.writeString(folder.resolve(name), text).toString();
  }

  private static String rules(String rules) {
    return "rulebase \"t\"\n  last line deny\n\nchapter c \"All\"\n" + rules;
  }

  private static final String CLEAN =
      rules(
          "\nrule a \"Clocks\"\n  note why\n  from zones: Offices\n  to zones: Ships\n"
              + "  using applications: NTP\n  then: allow\n"
              + "\nrule b \"Names\"\n  note why\n  from zones: Ships; Offices\n"
              + "  to zones: Gateway\n  using services: tcp/22; tcp/443\n  then: allow\n");

  @Test
  void checkSaysWhatIsWrongAndHowBadByItsStatus() throws Exception {
    assertThat(run("check", DEMO)).isEqualTo(Main.ERRORS);
    assertThat(out).contains("error    rule 13 (bk-export) shadowed", "try: from Offices");
    assertThat(out.indexOf("warning ")).isGreaterThan(out.lastIndexOf("error  "));
    assertThat(run("check", file("clean.rules", CLEAN))).as(out).isEqualTo(Main.FINE);
    String wide = rules("\nrule w \"Wide\"\n  note why\n  then: allow\n");
    assertThat(run("check", file("wide.rules", wide))).as(out).isEqualTo(Main.WARNINGS);
  }

  @Test
  void rulesThatNothingOnATapeFallsOnAreTold() throws Exception {
    String tape = "../demo/tapes/main-gateway/autumn weeks.csv";
    run("check", DEMO, "--tape", tape);
    assertThat(out).contains("(li-remote) unused", "in 29 days of recorded traffic");
    run("check", DEMO);
    assertThat(out).doesNotContain("unused");
    String broken = file("broken.csv", "times,connection\nmany,x\n");
    assertThat(run("check", DEMO, "--tape", broken)).isEqualTo(Main.UNREADABLE);
    assertThat(err).contains("broken.csv", "line 2", "whole number");
  }

  @Test
  void checkAsJsonHasWitnessesThatCanBeProbed() throws Exception {
    run("check", DEMO, "--json");
    JsonNode findings = new ObjectMapper().readTree(out);
    assertThat(findings.get(0).get("severity").asText()).isEqualTo("error");
    JsonNode evidence = findings.get(0).at("/evidence/0");
    assertThat(run("probe", DEMO, evidence.get("probe").asText(), "--json")).isEqualTo(Main.FINE);
    JsonNode probe = new ObjectMapper().readTree(out);
    assertThat(probe.get("rule")).isEqualTo(evidence.get("caughtBy"));
    assertThat(probe.get("stages")).isNotEmpty();
  }

  @Test
  void aProbeIsToldInWords() {
    assertThat(run("probe", DEMO, "from Guest wifi to Berth control at tue 10:00"))
        .isEqualTo(Main.FINE);
    assertThat(out).contains("deny, by rule 29 (bc-rest)");
    assertThat(run("probe", DEMO, "from Nowhere to Internet")).isEqualTo(Main.UNREADABLE);
    assertThat(err).contains("cannot read \"Nowhere");
  }

  @Test
  void impactNamesWhatChangesAndIsSilentWhereNothingDoes() throws Exception {
    String other = CLEAN.replace("using applications: NTP", "using applications: NTP; SSH");
    assertThat(run("impact", file("a.rules", CLEAN), file("b.rules", other)))
        .isEqualTo(Main.WARNINGS);
    assertThat(out)
        .contains(
            "deny -> allow", "application SSH", "1 group of connections gets another verdict");
    String renamed = CLEAN.replace("Clocks", "Watches");
    assertThat(run("impact", file("a.rules", CLEAN), file("b.rules", renamed)))
        .isEqualTo(Main.FINE);
  }

  @Test
  void fmtWritesTheOneWayAndLeavesCommentsAlone() throws Exception {
    String loose = CLEAN.replace("rule a", "# kept\nrule   a").replace("  note", "  note");
    String path = file("loose.rules", loose);
    assertThat(run("fmt", path, "--check")).isEqualTo(Main.WARNINGS);
    assertThat(Files.readString(Path.of(path))).isEqualTo(loose);
    assertThat(run("fmt", path)).isEqualTo(Main.FINE);
    assertThat(Files.readString(Path.of(path))).contains("# kept\nrule a ");
    assertThat(run("fmt", path, "--check")).isEqualTo(Main.FINE);
  }

  @Test
  void convertWritesEveryFormatAndSaysWhatIsLeftOut() throws Exception {
    assertThat(run("convert", DEMO, "--to", "json")).isEqualTo(Main.FINE);
    String json = file("demo.json", out);
    assertThat(run("convert", json, "--to", "rules")).isEqualTo(Main.FINE);
    assertThat(out).contains("rule gw-admin \"Administration of the gateway\"");
    run("convert", file("clean.rules", CLEAN), "--to", "acl");
    assertThat(out).contains("ietf-access-control-list:accept");
    assertThat(err).contains("a: using.applications is not carried; the entries match more");
    run("convert", DEMO, "--to", "csv");
    assertThat(out).startsWith("number,chapter,id");
  }

  @Test
  void whatCannotBeReadIsSaidWithItsPlace() throws Exception {
    String broken = file("broken.rules", CLEAN.replace("then: allow", "then: permit"));
    assertThat(run("check", broken)).isEqualTo(Main.UNREADABLE);
    assertThat(err).contains("broken.rules: line 11, column 9", "outcomes are allow");
    String ghost = file("ghost.rules", CLEAN.replace("NTP", "Ghost"));
    assertThat(run("check", ghost)).isEqualTo(Main.UNREADABLE);
    assertThat(err).contains("rule a, using.applications: the catalogue has no application");
    assertThat(run("check", "missing.rules")).isEqualTo(Main.UNREADABLE);
    assertThat(err).contains("is there such a file?");
    assertThat(run("convert", DEMO, "--to", "pdf")).isEqualTo(64);
  }

  private static final String CAPTURE = "../demo/captures/autumn weeks.pcapng.gz";

  @Test
  void aCaptureIsPrintedAsConnectionsWithWhatTheyAreAndWhy() {
    assertThat(run("identify", CAPTURE)).isEqualTo(Main.FINE);
    assertThat(out)
        .contains("Fenwick Share/upload over TLS", "server name", "method", "[opened with keys]");
    assertThat(err).contains("packets,").contains("connections");
    assertThat(run("identify", CAPTURE, "--json")).isEqualTo(Main.FINE);
    assertThat(out.lines().findFirst().orElseThrow())
        .startsWith("{\"first\"")
        .contains("\"signatures\"", "\"shown\"");
    assertThat(run("identify", "pom.xml")).isEqualTo(Main.UNREADABLE);
    assertThat(err).contains("this is no capture");
  }

  @Test
  void aCaptureIsATapeThatIsRunThroughARulebase() {
    assertThat(run("tape", "make", CAPTURE)).isEqualTo(Main.FINE);
    assertThat(out).startsWith("times,connection,up,down,unsaid");
    assertThat(run("tape", "run", CAPTURE, DEMO)).isEqualTo(Main.FINE);
    assertThat(out).contains("it depends", "default verdict", "rule 1 (");
    assertThat(run("tape", "show", CAPTURE, "--by", "recognised", "--json")).isEqualTo(Main.FINE);
    assertThat(out).contains("\"recognised\"", "\"connections\"");
    assertThat(run("tape", "show", CAPTURE, "--by", "colour")).isEqualTo(Main.UNREADABLE);
    assertThat(err).contains("there is no \"colour\"", "application");
  }

  @Test
  void aListOfSignInsSaysWhoWasBehindTheAddressesOfACapture(@TempDir Path folder) throws Exception {
    assertThat(run("tape", "make", CAPTURE)).isEqualTo(Main.FINE);
    assertThat(out).doesNotContain("as ines.halloran");
    Matcher first =
        Pattern.compile("from Offices (\\S+) .* at \\w+ (\\S+) (\\d\\d:\\d\\d)").matcher(out);
    assertThat(first.find()).isTrue();
    Path list = folder.resolve("sign-ins.csv");
    Files.writeString(
        list,
        "time,address,person\n" + first.group(2) + "T00:00," + first.group(1) + ",ines.halloran\n");
    assertThat(
            run("tape", "make", CAPTURE, "--sign-ins", list.toString(), "--sign-ins-hours", "24"))
        .isEqualTo(Main.FINE);
    assertThat(out).contains("from Offices " + first.group(1) + " as ines.halloran ");
    assertThat(err).contains("1 sign-ins say who was there for ");
    assertThat(run("tape", "make", CAPTURE, "--sign-ins", folder + "/none.csv"))
        .isEqualTo(Main.UNREADABLE);
    assertThat(err).contains("none.csv cannot be read");
  }

  @Test
  void theDemosSignaturesAreReadableAndTellEverythingApart() {
    for (String edition : new String[] {"41", "42"}) {
      assertThat(run("signatures", "check", "--edition", edition)).isEqualTo(Main.FINE);
      assertThat(out).contains("0 not readable, 0 pairs");
    }
  }
}
