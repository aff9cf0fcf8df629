package ironsieve.impact;

/** Of two surroundings that are put together, those before a change or those after it. */
enum Moment {
  BEFORE("until now"),
  AFTER("from then on");

  private final String words;

  Moment(String words) {
    this.words = words;
  }

  /** When it is so. */
  String words() {
    return words;
  }
}
