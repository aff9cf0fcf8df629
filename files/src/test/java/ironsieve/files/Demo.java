package ironsieve.files;

import ironsieve.model.Rulebase;
import ironsieve.text.RulebaseReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;

/** The demo company's files where they stand in the project. */
final class Demo {

  private Demo() {}

  static CompanyFolder folder() {
    return new CompanyFolder(path -> opened(Path.of("../demo", path)));
  }

  private static Optional<InputStream> opened(Path path) {
    try {
      return Files.exists(path) ? Optional.of(Files.newInputStream(path)) : Optional.empty();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  static String text() {
    return folder().text("rulebases/main-gateway.rules");
  }

  static Rulebase rulebase() {
    return RulebaseReader.read(text()).rulebase();
  }
}
