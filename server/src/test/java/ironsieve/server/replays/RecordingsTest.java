package ironsieve.server.replays;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import ironsieve.files.FaultException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What lies in a folder to be replayed, and what of it nobody meant to show. */
class RecordingsTest {

  @TempDir Path folder;

  @Test
  void filesAndFoldersAreFoundWithTheirSizesAndNothingBehindLinks() throws IOException {
    Path secret = Files.writeString(folder.resolve("secret.csv"), "a,b");
    Path top = Files.createDirectory(folder.resolve("top"));
    Path week = Files.createDirectories(top.resolve("une année/week 1"));
    Files.writeString(week.resolve("a.csv"), "12345");
    Files.writeString(top.resolve("une année/b.csv"), "123");
    Files.createDirectory(top.resolve("empty"));
    Files.writeString(Files.createDirectory(top.resolve(".hidden")).resolve("c.csv"), "1");
    Files.writeString(top.resolve("_SUCCESS"), "");
    Files.createSymbolicLink(top.resolve("link.csv"), secret);
    Files.createSymbolicLink(top.resolve("out"), folder);
    assertThat(Recordings.in(top))
        .containsExactly(
            new Recordings.Source("empty", true, 0),
            new Recordings.Source("une année", true, 8),
            new Recordings.Source("une année/b.csv", false, 3),
            new Recordings.Source("une année/week 1", true, 5),
            new Recordings.Source("une année/week 1/a.csv", false, 5));
  }

  @Test
  void aFolderThatIsGoneIsToldWithoutItsPlaceOnTheDisk() {
    assertThatThrownBy(() -> Recordings.in(folder.resolve("gone")))
        .isInstanceOf(FaultException.class)
        .hasMessageContaining("gone cannot be read")
        .hasMessageNotContaining(folder.toString());
  }
}
