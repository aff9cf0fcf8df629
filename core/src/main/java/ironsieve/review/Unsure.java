package ironsieve.review;

import ironsieve.review.Finding.Kind;
import ironsieve.review.Finding.Severity;
import java.util.List;

/** What a check says where the budget did not reach. */
final class Unsure {

  private Unsure() {}

  /**
   * That something of a rule stayed open.
   *
   * @param rule its id
   * @param what such as {@code whether anything passes before it decides}
   */
  static Finding about(String rule, String what) {
    return new Finding(
        Kind.UNDETERMINED,
        Severity.QUIET,
        rule,
        Sentences.undetermined(what),
        List.of(),
        List.of());
  }
}
