package ironsieve.impact;

/** What one thing is called before and after. */
record MomentPair(String before, String after) {

  /** What it is called at a moment. */
  String at(Moment moment) {
    return moment == Moment.BEFORE ? before : after;
  }

  /** A name for both. */
  String joint() {
    return before.equals(after) ? before : before + " → " + after;
  }
}
