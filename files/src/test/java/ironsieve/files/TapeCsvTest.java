package ironsieve.files;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import ironsieve.compile.CompiledRulebase;
import ironsieve.model.Environment;
import ironsieve.model.Tape;
import ironsieve.recorded.Hits;
import ironsieve.text.ProbeText;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class TapeCsvTest {

  private static final Environment HERE = Demo.folder().environment(LocalDate.of(2026, 11, 23));
  private static final ProbeText PROBES = new ProbeText(HERE);

  @Test
  void theDemosTapeIsWrittenAsItIsReadAndCanAllBeDropped() {
    String text = Demo.folder().tapes("main-gateway").get("autumn weeks");
    Tape tape = TapeCsv.read("autumn weeks", text, PROBES);
    assertThat(tape.lines()).hasSizeGreaterThan(800);
    assertThat(TapeCsv.write(tape)).isEqualTo(text);
    Hits hits = Hits.of(CompiledRulebase.of(Demo.rulebase(), HERE), List.of(tape));
    assertThat(hits.impossible()).isZero();
    assertThat(hits.counts()).containsKey("bk-web").doesNotContainKey("li-remote");
    assertThat(hits.period().orElseThrow().days()).isEqualTo(29);
  }

  @Test
  void theNameOfAnApplicationMayBeginWithAProtocol() {
    String text =
        "times,connection\r\n7,from Offices 10.20.0.1 on server to Gateway 10.10.0.1 using icmp/8.0"
            + " ICMP echo at wed 2026-11-18 11:44\r\n";
    assertThat(TapeCsv.write(TapeCsv.read("t", text, PROBES))).isEqualTo(text);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "count,what;1,x | line 1 | columns times,connection",
        "times,connection | line 2 | no connection",
        "times,connection;0,from Offices to Internet at 2026-11-02 09:30 | line 2 | whole number from 1",
        "times,connection;2,from Offices to Internet at 2026-11-02 09:30;2 | line 3 | there are 2 columns",
        "times,connection;2,from Offices to Internet at tue 2026-11-02 09:30 | line 2 | is a Monday, not a Tuesday",
        "times,connection;2,from Offices to Internet at tue 09:30 | line 2 | when it was seen",
        "times,connection;2,from Moon to Internet at 2026-11-02 09:30 | line 2 | Moon",
      })
  void whatIsNoTapeIsRefusedByItsLine(String lines, String place, String hint) {
    assertThatThrownBy(() -> TapeCsv.read("bad", lines.replace(';', '\n'), PROBES))
        .isInstanceOf(FaultException.class)
        .hasMessageContaining("tape bad")
        .hasMessageContaining(hint)
        .extracting(e -> ((FaultException) e).faults().get(0).place())
        .isEqualTo("tape bad, " + place);
  }
}
