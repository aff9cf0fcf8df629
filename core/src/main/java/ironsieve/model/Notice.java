package ironsieve.model;

/**
 * A page a person is shown.
 *
 * @param name unique in its rulebase
 * @param verdict what comes with it: {@link Verdict#ASK}, {@link Verdict#STOP} or {@link
 *     Verdict#ENROL}
 * @param text what the page says
 */
public record Notice(String name, Verdict verdict, String text) {

  public Notice {
    if (!verdict.shows()) {
      throw new IllegalArgumentException(
          "a notice asks, stops or enrols; it does not " + verdict.word());
    }
  }
}
