package ironsieve.text;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import ironsieve.Rulebases;
import ironsieve.model.Lane;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Verdict;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Random;
import java.util.Set;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.Assume;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class RulebaseTextTest {

  private static final String WHOLE =
      """
      # The gateway between here and there.
      rulebase "Main \\"old\\" gateway"
        default verdict reject
        # Leased in March.
        capacity 20 Mbit/s up 50 Mbit/s down

      set device "Handhelds; all"
        note Scanners and such.
        note Two lines of it.
        values: handheld scanner; any device, healthy; "set a; b"

      notice ask "Think twice"
        text Is this for work?

      lane "Calls" for each client
        ceiling 2 Mbit/s up 1500 kbit/s down
        # Opus needs this much.
        guarantee 64 kbit/s up 64 kbit/s down
        clients 40

      sheet "Careful"
        on category social: ask Think twice
        # Only to look at.
        on Chatterbay/upload: deny
        otherwise: allow in Calls

      decrypt offices
        from zones: Offices; Terminals

      chapter c1 "The first"
        note What comes first.

      # Nobody remembers why.
      rule r1 "Kiosks" off
        note CHG-7
        owner Ticket hall
        # As the auditors asked.
        change CHG-7; CHG-12
        review by 2027-01-31
        from zones: Offices
        from people not: group Crew
        to sites: *.shop.example; category News
        usual ports
        then: allow
        sheet: Careful
        not logged

      rule r2
        then: stop Think twice

      # The end.
      """;

  @Provide
  Arbitrary<Rulebases.Case> cases() {
    return Rulebases.cases(6);
  }

  @Property(tries = 1000)
  void everyRulebaseIsReadBackFromItsText(@ForAll("cases") Rulebases.Case given) {
    Rulebase rulebase = distinctDecryption(given.rulebase());
    String text = RulebaseWriter.write(RulebaseFile.of(rulebase));
    assertThat(RulebaseReader.read(text).rulebase()).isEqualTo(rulebase);
  }

  @Property(tries = 500)
  void rulesTakenOutOfARulebaseAreReadBackInTheirOrder(@ForAll("cases") Rulebases.Case given) {
    List<Rule> all = given.rulebase().rules();
    Set<String> ids = new HashSet<>();
    for (int i = 0; i < all.size(); i += 2) {
      ids.add(all.get(i).id());
    }
    Assume.that(!ids.isEmpty());
    RulebaseFile read = RulebaseReader.rules(RulebaseWriter.rules(given.rulebase(), ids));
    assertThat(read.rulebase().rules())
        .isEqualTo(all.stream().filter(rule -> ids.contains(rule.id())).toList());
    assertThat(read.comments().get("rule " + all.get(0).id()))
        .containsExactly("# rule 1 of " + given.rulebase().name());
  }

  @Test
  void whatIsNoRuleAmongRulesIsToldByItsLine() {
    assertThatThrownBy(() -> RulebaseReader.rules("rule r1\n  then: deny\nchapter c \"C\"\n"))
        .hasMessage("line 3, column 1: expected: rule ID \"NAME\"");
    assertThatThrownBy(() -> RulebaseReader.rules("# nothing\n"))
        .hasMessage("line 1, column 1: expected: rule ID \"NAME\"");
  }

  /** Decryption rules of a file have identifiers of their own. */
  private static Rulebase distinctDecryption(Rulebase rulebase) {
    List<ironsieve.model.DecryptionRule> lines = new ArrayList<>();
    rulebase
        .parts()
        .decryption()
        .forEach(
            line ->
                lines.add(
                    new ironsieve.model.DecryptionRule(
                        "l" + lines.size(), line.match(), line.decision(), "why")));
    ironsieve.model.Parts parts = rulebase.parts();
    return new Rulebase(
        rulebase.name(),
        rulebase.chapters(),
        new ironsieve.model.Parts(
            parts.sets(),
            parts.sheets(),
            parts.notices(),
            parts.lanes(),
            lines,
            new Lane.Rates(1, 2)),
        rulebase.defaultVerdict());
  }

  @Test
  void aWholeFileIsReadAndWrittenBackToTheLetter() {
    RulebaseFile file = RulebaseReader.read(WHOLE);
    assertThat(RulebaseWriter.write(file)).isEqualTo(WHOLE);
    Rulebase rulebase = file.rulebase();
    assertThat(rulebase.name()).isEqualTo("Main \"old\" gateway");
    assertThat(rulebase.defaultVerdict()).isEqualTo(Verdict.REJECT);
    assertThat(rulebase.sets().get(0).values()).hasSize(3);
    assertThat(rulebase.sets().get(0).note()).isEqualTo("Scanners and such.\nTwo lines of it.");
    assertThat(rulebase.parts().sheets().get(0).lines()).hasSize(2);
    assertThat(rulebase.rules()).extracting(Rule::isOn).containsExactly(false, true);
    assertThat(rulebase.rules().get(0).then().sheet()).contains("Careful");
  }

  @Test
  void spacingAndOrderOfLinesDoNotMatterAndCommentsStayWithTheirLines() {
    String loose =
        """
        rulebase   "x"

        chapter c  "All"
        rule r
          # why
          to   zones  not :  Inside ;Outside

          # first
          then :  deny
        """;
    String tidy =
        """
        rulebase "x"
          default verdict deny

        chapter c "All"

        rule r
          # why
          to zones not: Inside; Outside
          # first
          then: deny
        """;
    assertThat(RulebaseWriter.write(RulebaseReader.read(loose))).isEqualTo(tidy);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "set device \"Hand | 7, 12 | not closed",
        "default verdict reject | 3, 19 | allow, deny or reject",
        "clients 40 | 19, 10 | a number of clients",
        "then: allow | 44, 9 | outcomes are allow",
        "to sites: *.shop.example | 42, 13 | no host name",
        "chapter c1 | 32, 1 | chapter before the first rule",
        "on category social: ask | 22, 23 | outcomes are allow",
        "from zones: Offices; | 28, 24 | expected a zone",
        "rule r2 | 48, 1 | already"
      })
  void whatCannotBeReadIsSaidWithItsPlace(String line, String place, String hint) {
    String wrong =
        switch (line) {
          case "set device \"Hand" -> WHOLE.replace("\"Handhelds; all\"", "\"Handhelds");
          case "default verdict reject" ->
              WHOLE.replace("default verdict reject", "default verdict ask X");
          case "clients 40" -> WHOLE.replace("  clients 40", "  clients: forty");
          case "then: allow" -> WHOLE.replace("then: allow\n", "then: permit\n");
          case "to sites: *.shop.example" -> WHOLE.replace("*.shop.example", "*.shop..example");
          case "chapter c1" ->
              WHOLE.replace("chapter c1 \"The first\"\n  note What comes first.\n", "");
          case "on category social: ask" -> WHOLE.replace("social: ask", "social: perhaps");
          case "from zones: Offices;" -> WHOLE.replace("Offices; Terminals", "Offices; ; T");
          default -> WHOLE.replace("rule r2", "rule r1");
        };
    assertThat(wrong).isNotEqualTo(WHOLE);
    String[] at = place.split(", ");
    assertThatThrownBy(() -> RulebaseReader.read(wrong))
        .isInstanceOfSatisfying(
            FileTextException.class,
            e -> {
              assertThat(e.line()).as(e.getMessage()).isEqualTo(Integer.parseInt(at[0]));
              assertThat(e.column()).as(e.getMessage()).isEqualTo(Integer.parseInt(at[1]));
            })
        .hasMessageContaining(hint.trim());
  }

  @Property(tries = 3000)
  void damagedTextIsReadOrRefusedWithAPlaceInIt(@ForAll long seed) {
    Random random = new Random(seed);
    StringBuilder text = new StringBuilder(WHOLE);
    for (int damage = 1 + random.nextInt(3); damage > 0; damage--) {
      int at = random.nextInt(text.length());
      switch (random.nextInt(3)) {
        case 0 -> text.deleteCharAt(at);
        case 1 -> text.insert(at, " :;\"#\n\\/x".charAt(random.nextInt(9)));
        default -> text.delete(at, Math.min(text.length(), at + random.nextInt(30)));
      }
    }
    String damaged = text.toString();
    try {
      RulebaseFile file = RulebaseReader.read(damaged);
      String written = RulebaseWriter.write(file);
      assertThat(RulebaseReader.read(written).rulebase()).isEqualTo(file.rulebase());
    } catch (FileTextException e) {
      assertThat(e.line()).isBetween(1, damaged.split("\n", -1).length);
      assertThat(e.column()).isBetween(1, damaged.split("\n", -1)[e.line() - 1].length() + 1);
    }
  }

  @Test
  void theWordsOfOlderFilesAreStillRead() {
    String old =
        "rulebase \"x\"\n  last line allow\n  capacity 2500 there 7000 back\n\n"
            + "reading open a\n\nreading leave b\n  from zones: Out\n\nchapter c \"C\"\n\nrule a\n  to sites: nameless\n"
            + "  then: deny\n  quiet\n";
    String now = RulebaseWriter.write(RulebaseReader.read(old));
    assertThat(now)
        .contains("default verdict allow", "to sites: no host name", "not logged")
        .contains("capacity 2500 kbit/s up 7 Mbit/s down", "decrypt a", "leave encrypted b")
        .doesNotContain("last line", "nameless", "quiet", "there", "reading");
    assertThat(RulebaseReader.read(now).rulebase()).isEqualTo(RulebaseReader.read(old).rulebase());
  }
}
