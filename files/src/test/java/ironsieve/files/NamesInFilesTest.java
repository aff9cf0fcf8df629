package ironsieve.files;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.files.Documents.PromiseDoc;
import ironsieve.files.NameMapping.Named;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.text.ProbeText;
import ironsieve.text.RulebaseReader;
import ironsieve.text.ValueText;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** Other names in the place of those a rulebase has. */
class NamesInFilesTest {

  private static final Rulebase FOREIGN =
      RulebaseReader.read(
              """
              rulebase "Annex"
                default verdict deny

              set network "Desks"
                values: 10.0.0.1; list Gone

              decrypt all
                from zones: Gone

              chapter a "All"
              rule one "One"
                from zones: Office; Gone
                from networks not: list Gone
                from networks: set Desks
                then: allow
              rule two "Two"
                note Kept.
                to zones: Gone
                then: deny
              """
                  .replace("  from networks not: list Gone\n", ""))
          .rulebase();

  private static Named zone(String name) {
    return new Named(ValueKind.ZONE, new Value.ZoneName(name));
  }

  @Test
  void namesAreReplacedOrLeftOutAndARuleThatWouldMatchMoreIsOff() {
    Rulebase mapped =
        new NameMapping(
                Map.of(
                    zone("Office"),
                    Optional.of(new Value.ZoneName("Offices")),
                    zone("Gone"),
                    Optional.empty(),
                    new Named(ValueKind.NETWORK, new Value.ListName("Gone")),
                    Optional.empty()))
            .of(FOREIGN);
    Rule one = mapped.rules().get(0);
    assertThat(one.isOn()).isTrue();
    assertThat(ValueText.print(one.match().field(FieldName.FROM_ZONES).orElseThrow()))
        .isEqualTo("Offices");
    assertThat(mapped.sets().get(0).values()).hasSize(1);
    Rule two = mapped.rules().get(1);
    assertThat(two.isOn()).isFalse();
    assertThat(two.match().field(FieldName.TO_ZONES)).isEmpty();
    assertThat(two.note())
        .isEqualTo("Kept. Switched off when it was brought in: nothing is left of to zone Gone.");
    // A line that would decrypt everything is left out.
    assertThat(mapped.parts().decryption()).isEmpty();
  }

  @Test
  void newNamesAreTakenOnInRulesSetsAndPromises() {
    CompanyFolder demo = Demo.folder();
    Contents contents = demo.contents("main-gateway");
    Renaming renaming =
        new Renaming(
            List.of(
                new Renaming.Renamed(WorkspaceKind.ZONE, "Offices", "Desks ashore"),
                new Renaming.Renamed(WorkspaceKind.PERSON, "livia.quist", "lq"),
                new Renaming.Renamed(WorkspaceKind.GROUP, "Masters", "Captains"),
                new Renaming.Renamed(WorkspaceKind.DEVICE_KIND, "shared kiosk", "kiosk")),
            new ProbeText(demo.environment(LocalDate.of(2026, 11, 24))));
    Contents renamed = renaming.of(contents);
    String said = renamed.records().toString();
    assertThat(said)
        .contains("Desks ashore", "group Captains", "values=[kiosk")
        .doesNotContain("group Masters", "[Offices");
    assertThat(renamed.promises().values())
        .extracting(PromiseDoc::probe)
        .anyMatch(probe -> probe.contains("from Desks ashore"))
        .noneMatch(probe -> probe.contains("from Offices") || probe.contains("livia.quist"));
    // What uses none of them is the very same.
    assertThat(
            new Renaming(List.of(new Renaming.Renamed(WorkspaceKind.ZONE, "Moon", "Mars")))
                .of(contents))
        .isSameAs(contents);
  }

  @Test
  void aTapeIsReadInTheNewWords() {
    CompanyFolder demo = Demo.folder();
    ProbeText probes = new ProbeText(demo.environment(LocalDate.of(2026, 11, 24)));
    Renaming renaming =
        new Renaming(
            List.of(new Renaming.Renamed(WorkspaceKind.ZONE, "Guest wifi", "Guests")), probes);
    String tape = demo.tapes("main-gateway").values().iterator().next();
    String renamed = renaming.tape(tape);
    assertThat(renamed).contains("from Guests ").doesNotContain("Guest wifi");
    assertThat(renamed.lines().count()).isEqualTo(tape.lines().count());
    // Read where the old words are meant, every line of a renamed zone is gone, and only those.
    long gone = TapeCsv.readStored("t", renamed, probes).gone();
    assertThat(gone).isPositive();
    assertThat(TapeCsv.readStored("t", tape, probes).gone()).isZero();
  }
}
