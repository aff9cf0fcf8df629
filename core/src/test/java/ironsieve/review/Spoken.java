package ironsieve.review;

/** Findings in words, for rules called r1, r2 … from the top. */
final class Spoken {

  private Spoken() {}

  static String words(Finding finding) {
    return finding.said().with(id -> Integer.parseInt(id.substring(1)));
  }
}
