package ironsieve.files;

import static org.assertj.core.api.Assertions.assertThat;

import com.code_intelligence.jazzer.api.FuzzedDataProvider;
import com.code_intelligence.jazzer.junit.FuzzTest;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.text.FileTextException;
import ironsieve.text.OutcomeText;
import ironsieve.text.ProbeText;
import ironsieve.text.RulebaseFile;
import ironsieve.text.RulebaseReader;
import ironsieve.text.RulebaseWriter;
import ironsieve.text.TextException;
import ironsieve.text.ValueText;
import java.time.LocalDate;
import java.time.LocalDateTime;

/**
 * Coverage-guided fuzzing of every parser: whatever comes in is read, and then written and read
 * back alike, or refused with the parser's own exception. With {@code JAZZER_FUZZ=1} inputs are
 * searched for; without, the kept ones are run again.
 */
class ParsersFuzzTest {

  private static final ProbeText PROBES =
      new ProbeText(Demo.folder().environment(LocalDate.of(2026, 11, 23)));

  @FuzzTest(maxDuration = "8s")
  void rulebaseText(FuzzedDataProvider data) {
    String text = data.consumeRemainingAsString();
    try {
      RulebaseFile file = RulebaseReader.read(text);
      assertThat(RulebaseReader.read(RulebaseWriter.write(file)).rulebase())
          .isEqualTo(file.rulebase());
    } catch (FileTextException e) {
      assertThat(e.line()).isPositive();
      assertThat(e.column()).isPositive();
    }
  }

  @FuzzTest(maxDuration = "8s")
  void values(FuzzedDataProvider data) {
    ValueKind kind = data.pickValue(ValueKind.values());
    String text = data.consumeRemainingAsString();
    try {
      Value value = ValueText.parse(kind, text);
      assertThat(ValueText.parse(kind, ValueText.print(value))).isEqualTo(value);
    } catch (TextException e) {
      assertThat(e.getMessage()).isNotBlank();
    }
  }

  @FuzzTest(maxDuration = "8s")
  void outcomes(FuzzedDataProvider data) {
    String text = data.consumeRemainingAsString();
    try {
      assertThat(OutcomeText.parse(OutcomeText.print(OutcomeText.parse(text))))
          .isEqualTo(OutcomeText.parse(text));
    } catch (TextException e) {
      assertThat(e.getMessage()).isNotBlank();
    }
  }

  @FuzzTest(maxDuration = "8s")
  void probes(FuzzedDataProvider data) {
    String text = data.consumeRemainingAsString();
    LocalDateTime now = LocalDateTime.of(2026, 11, 23, 9, 0);
    try {
      ProbeText.Probe probe = PROBES.parse(text, now);
      assertThat(PROBES.parse(ProbeText.print(probe.connection()), now).connection())
          .isEqualTo(probe.connection());
    } catch (TextException e) {
      assertThat(e.position()).isBetween(0, text.length());
    }
  }

  @FuzzTest(maxDuration = "8s")
  void json(FuzzedDataProvider data) {
    try {
      RulebaseFile file = RulebaseJson.file(data.consumeRemainingAsString());
      assertThat(RulebaseJson.file(RulebaseJson.write(file))).isEqualTo(file);
    } catch (FaultException e) {
      assertThat(e.getMessage()).isNotBlank();
    }
  }

  /** All of them in one machine: the first byte says which. */
  @FuzzTest(maxDuration = "24s")
  void everyParser(FuzzedDataProvider data) {
    switch (data.consumeInt(0, 4)) {
      case 0 -> rulebaseText(data);
      case 1 -> values(data);
      case 2 -> outcomes(data);
      case 3 -> probes(data);
      default -> json(data);
    }
  }
}
