package ironsieve.traffic;

import ironsieve.files.CompanyFolder;
import ironsieve.files.Documents.ApplicationDoc;
import ironsieve.traffic.signature.SignatureBook;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/** The demo catalogue's signatures. */
public final class DemoSignatures {

  private static final Path DEMO = Path.of("..", "demo");

  private DemoSignatures() {}

  /** The applications of an edition. */
  public static List<ApplicationDoc> applications(int edition) {
    return folder().applications(edition);
  }

  /** The demo company's files. */
  public static CompanyFolder folder() {
    return new CompanyFolder(
        path -> {
          Path file = DEMO.resolve(path);
          try {
            return Files.exists(file) ? Optional.of(Files.newInputStream(file)) : Optional.empty();
          } catch (IOException e) {
            throw new UncheckedIOException(e);
          }
        });
  }

  /** The signatures of an edition. */
  public static SignatureBook book(int edition) {
    return new SignatureBook(
        applications(edition).stream()
            .map(
                doc ->
                    new SignatureBook.Written(
                        doc.name(), false, doc.features(), doc.ridesOn(), doc.signatures()))
            .toList());
  }
}
