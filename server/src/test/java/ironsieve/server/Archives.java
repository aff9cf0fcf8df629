package ironsieve.server;

import ironsieve.files.Archive;
import java.io.ByteArrayInputStream;

/** What stands in an archive. */
final class Archives {

  private Archives() {}

  /** All its files, one after the other. */
  static String text(byte[] archive) {
    return String.join("\n", Archive.read(new ByteArrayInputStream(archive)).values());
  }
}
