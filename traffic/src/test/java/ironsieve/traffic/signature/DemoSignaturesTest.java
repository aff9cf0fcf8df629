package ironsieve.traffic.signature;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.files.Documents.ApplicationDoc;
import ironsieve.traffic.DemoSignatures;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What the demo's editions say of how applications are recognised. */
class DemoSignaturesTest {

  /** What SSH does inside is encrypted by keys no key log has. */
  private static final Set<String> UNSEEN =
      Set.of("SSH/file copy", "SSH/port forwarding", "SSH/shell");

  @ParameterizedTest
  @ValueSource(ints = {41, 42})
  void everyApplicationAndFeatureHasOneThatCanBeRead(int edition) {
    SignatureBook book = DemoSignatures.book(edition);
    assertThat(book.problems()).isEmpty();
    Set<String> recognised = new TreeSet<>();
    book.signatures().forEach(one -> recognised.add(one.recognises()));
    Set<String> wanted = new TreeSet<>();
    for (ApplicationDoc doc : DemoSignatures.applications(edition)) {
      wanted.add(doc.name());
      doc.features().forEach(feature -> wanted.add(doc.name() + "/" + feature));
    }
    wanted.removeAll(UNSEEN);
    assertThat(recognised).isEqualTo(wanted);
  }

  @Test
  void printingAndReadingGivesTheSame() {
    List<Signature> signatures = DemoSignatures.book(42).signatures();
    for (Signature signature : signatures) {
      String text = SignatureText.print(signature);
      assertThat(SignatureText.parse(signature.application(), false, text))
          .as(text)
          .isEqualTo(signature);
    }
  }

  @Test
  void aNameWithDotsAtItsEndIsReadAsItIsPrinted() {
    String printed = SignatureText.print(SignatureText.parse("a", false, "host\t\tends\tend.."));
    assertThat(printed).contains("ends end").doesNotContain("end.");
    assertThat(SignatureText.print(SignatureText.parse("a", false, printed))).isEqualTo(printed);
  }
}
