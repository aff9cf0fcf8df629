package ironsieve.generated;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.compile.CompiledRulebase;
import ironsieve.files.CompanyFolder;
import ironsieve.files.TapeCsv;
import ironsieve.model.Environment;
import ironsieve.model.Tape;
import ironsieve.recorded.Hits;
import ironsieve.standins.DemoFile;
import ironsieve.text.ProbeText;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.List;
import org.junit.jupiter.api.Test;

class GeneratedTapeTest {

  @Test
  void aGeneratedTapeIsReadBackAndFallsOnManyRulesBeforeToday() {
    CompanyFolder folder = new CompanyFolder(DemoFile::find);
    LocalDate today = LocalDate.of(2026, 11, 23);
    Environment here = folder.environment(today);
    CompiledRulebase compiled =
        CompiledRulebase.of(GeneratedRulebase.of(400, 7, here).rulebase(), here);
    Tape tape = GeneratedTape.of(compiled, 7);
    assertThat(TapeCsv.read(tape.name(), TapeCsv.write(tape), new ProbeText(here))).isEqualTo(tape);
    Hits hits = Hits.of(compiled, List.of(tape));
    assertThat(hits.impossible()).isZero();
    assertThat(hits.counts()).hasSizeGreaterThan(100);
    assertThat(tape.lines())
        .extracting(line -> line.connection().at())
        .allMatch((LocalDateTime at) -> at.isBefore(today.atStartOfDay()));
  }
}
