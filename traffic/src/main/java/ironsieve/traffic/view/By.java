package ironsieve.traffic.view;

import java.util.Arrays;
import java.util.Optional;

/** What recorded traffic can be summed up by and narrowed to. */
public enum By {
  RULE("rule"),
  VERDICT("verdict"),
  APPLICATION("application"),
  FEATURE("feature"),
  FAMILY("family"),
  CATEGORY("category"),
  RECOGNISED("recognised"),
  PERSON("person"),
  GROUP("group"),
  DEVICE("device"),
  FROM_ZONE("from zone"),
  TO_ZONE("to zone"),
  SOURCE("source"),
  DESTINATION("destination"),
  HOST("host"),
  SITE("site category"),
  COUNTRY("country"),
  SERVICE("service"),
  TAPE("tape");

  private final String word;

  By(String word) {
    this.word = word;
  }

  /** The word for it. */
  public String word() {
    return word;
  }

  /** What a word stands for. */
  public static Optional<By> of(String word) {
    return Arrays.stream(values()).filter(by -> by.word.equals(word)).findFirst();
  }

  /**
   * What a word stands for.
   *
   * @throws IllegalArgumentException naming the words there are
   */
  public static By demand(String word) {
    return of(word)
        .orElseThrow(
            () ->
                new IllegalArgumentException(
                    "there is no \""
                        + word
                        + "\"; there are "
                        + String.join(", ", Arrays.stream(values()).map(By::word).toList())));
  }
}
