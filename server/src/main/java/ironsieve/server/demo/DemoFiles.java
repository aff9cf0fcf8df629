package ironsieve.server.demo;

import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.files.CompanyFolder;
import ironsieve.standins.DemoFile;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.eclipse.microprofile.config.inject.ConfigProperty;

/** The demo company's files, which ship inside the server. */
@ApplicationScoped
public class DemoFiles {

  private static final String OF_WORKSPACE = "history/workspace.json";
  private static final Pattern OF_RULEBASE = Pattern.compile("history/rulebases/(.+)\\.json");

  /** Whether the demo comes with the years in which it grew. */
  @ConfigProperty(name = "iron-sieve.demo.history", defaultValue = "true")
  boolean withHistory;

  @Inject ObjectMapper json;

  /** The demo as a server begins with it. */
  CompanyFolder folder() {
    return withHistory ? folderWithHistory() : plain();
  }

  /** The demo with the history of its rulebases. */
  public CompanyFolder folderWithHistory() {
    return new CompanyFolder(path -> file(path).or(() -> history(path)));
  }

  private static CompanyFolder plain() {
    return new CompanyFolder(DemoFiles::file);
  }

  private static Optional<InputStream> file(String path) {
    return DemoFile.find(path);
  }

  /** What an archive with this history would have in its place. */
  private Optional<InputStream> history(String path) {
    if (path.equals(OF_WORKSPACE)) {
      return Optional.of(stream("[]"));
    }
    Matcher rulebase = OF_RULEBASE.matcher(path);
    return rulebase.matches()
        ? file("rulebases/" + rulebase.group(1) + ".history.json")
            .map(edits -> journal(edits, rulebase.group(1)))
        : Optional.empty();
  }

  private InputStream journal(InputStream edits, String rulebase) {
    try (edits) {
      String text = new String(edits.readAllBytes(), StandardCharsets.UTF_8);
      return stream(new DemoHistory(json).journal(text, plain().contents(rulebase)));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static InputStream stream(String text) {
    return new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8));
  }
}
