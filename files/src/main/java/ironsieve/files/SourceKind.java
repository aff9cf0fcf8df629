package ironsieve.files;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** The kinds of source that keep some of the workspace current. */
public enum SourceKind {
  DIRECTORY("directory", "ldap", "ldaps"),
  GEOFEED("geofeed", "http", "https"),
  ADDRESS_LIST("address list", "http", "https"),
  SITES("site categories", "http", "https"),
  EDITIONS("catalogue editions", "http", "https"),
  RESOLVER("resolver", "dns");

  private final String word;
  private final Set<String> schemes;

  SourceKind(String word, String... schemes) {
    this.word = word;
    this.schemes = Set.of(schemes);
  }

  /** The word in documents and messages. */
  public String word() {
    return word;
  }

  /** What an address of one can begin with, such as {@code https}. */
  public Set<String> schemes() {
    return schemes;
  }

  /** The kind with this word, if there is one. */
  public static Optional<SourceKind> ofWord(String word) {
    return Arrays.stream(values()).filter(kind -> kind.word.equals(word)).findFirst();
  }

  /** All words, for messages. */
  public static List<String> words() {
    return Arrays.stream(values()).map(SourceKind::word).toList();
  }
}
