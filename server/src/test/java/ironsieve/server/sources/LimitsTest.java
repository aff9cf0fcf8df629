package ironsieve.server.sources;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.recorded.Minutes;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** What the docs say of limits is what the code has. */
class LimitsTest {

  private static String docs(String name) throws Exception {
    return Files.readString(Path.of("../docs", name));
  }

  @Test
  void theLimitsOfADirectoryAreThoseInTheDocs() throws Exception {
    String sources = docs("sources.md");
    assertThat(sources)
        .contains((LdapDirectory.ANSWERING_MS / 1000) + " s for an answer")
        .contains("two minutes for all of it")
        .contains((LdapDirectory.MOST_BYTES >> 20) + " MB or 500,000 entries");
    assertThat(LdapDirectory.LONGEST.toMinutes()).isEqualTo(2);
    assertThat(LdapDirectory.MOST_ENTRIES).isEqualTo(500_000);
    assertThat(docs("limits.md"))
        .contains(
            (LdapDirectory.MOST_BYTES >> 20)
                + " MB, 500,000 entries, "
                + (LdapDirectory.ANSWERING_MS / 1000)
                + " s for an answer, "
                + LdapDirectory.LONGEST.toMinutes()
                + " minutes for all");
  }

  @Test
  void theTimesOfRecordedTrafficAreThoseInTheDocs() throws Exception {
    String range = Minutes.FIRST.getYear() + " to " + Minutes.LAST.getYear();
    assertThat(docs("limits.md")).contains("| times of recorded traffic | " + range + " |");
    assertThat(docs("traffic.md"))
        .contains("between " + Minutes.FIRST.getYear() + " and " + Minutes.LAST.getYear());
  }

  /** Every test that the list names is there. */
  @Test
  void theListOfLimitsNamesTestsThatAreThere() throws Exception {
    for (String line : docs("limits.md").lines().filter(one -> one.startsWith("| ")).toList()) {
      String[] cells = line.split("\\|");
      for (String word : cells[cells.length - 1].split("[`, ]+")) {
        if (word.endsWith("Test")) {
          assertThat(isThere(word)).as(word).isTrue();
        }
      }
    }
  }

  private static boolean isThere(String test) throws Exception {
    for (String module : List.of("core", "files", "traffic", "server", "cli", "replay")) {
      try (Stream<Path> files = Files.walk(Path.of("..", module, "src", "test"))) {
        if (files.anyMatch(file -> file.endsWith(test + ".java"))) {
          return true;
        }
      }
    }
    return false;
  }
}
