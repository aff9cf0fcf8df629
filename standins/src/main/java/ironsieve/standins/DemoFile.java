package ironsieve.standins;

import java.io.IOException;
import java.io.InputStream;
import java.util.Optional;

/** The files of the demo company, which come with this module. */
public final class DemoFile {

  private DemoFile() {}

  /**
   * A file, opened.
   *
   * @param path below {@code demo/}
   */
  public static Optional<InputStream> find(String path) {
    return Optional.ofNullable(DemoFile.class.getResourceAsStream("/demo/" + path));
  }

  /**
   * The content of a file.
   *
   * @param path below {@code demo/}
   * @throws IOException if there is none
   */
  public static byte[] read(String path) throws IOException {
    try (InputStream in =
        find(path).orElseThrow(() -> new IOException("there is no file demo/" + path))) {
      return in.readAllBytes();
    }
  }
}
