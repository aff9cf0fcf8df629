package ironsieve.text;

import ironsieve.model.Outcome;
import ironsieve.model.Verdict;
import java.util.Arrays;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * What happens to a connection as text: {@code allow}, {@code allow in LANE}, {@code deny}, {@code
 * reject}, {@code ask NOTICE}, {@code stop NOTICE}, {@code enrol NOTICE}.
 */
public final class OutcomeText {

  private static final String LANE = "in ";

  private OutcomeText() {}

  /**
   * Reads an outcome. Whether the lane or notice exists is not asked here.
   *
   * @throws TextException saying what would be right
   */
  public static Outcome parse(String raw) {
    String text = raw.trim();
    int space = text.indexOf(' ');
    String word = space < 0 ? text : text.substring(0, space);
    Optional<String> rest =
        space < 0 ? Optional.empty() : Optional.of(text.substring(space + 1).trim());
    Verdict verdict =
        Arrays.stream(Verdict.values())
            .filter(candidate -> candidate.word().equals(word))
            .findFirst()
            .orElseThrow(() -> new TextException(0, expected(text)));
    if (verdict.shows()) {
      String notice =
          rest.orElseThrow(
              () ->
                  new TextException(
                      text.length(),
                      "say which notice is shown, such as " + word + " Think twice"));
      return new Outcome(verdict, Optional.of(notice), Optional.empty());
    }
    if (rest.isEmpty()) {
      return Outcome.of(verdict);
    }
    if (verdict != Verdict.ALLOW || !rest.get().startsWith(LANE)) {
      throw new TextException(space + 1, expected(text));
    }
    return new Outcome(
        verdict, Optional.empty(), Optional.of(rest.get().substring(LANE.length()).trim()));
  }

  private static String expected(String text) {
    String words =
        Arrays.stream(Verdict.values())
            .map(v -> v.word() + (v.shows() ? " NOTICE" : v == Verdict.ALLOW ? " [in LANE]" : ""))
            .collect(Collectors.joining(", "));
    return "\"" + text + "\" is no outcome; outcomes are " + words;
  }

  /** Writes an outcome so that {@link #parse} reads it back. */
  public static String print(Outcome outcome) {
    return outcome.verdict().word()
        + outcome.notice().map(name -> " " + name).orElse("")
        + outcome.lane().map(name -> " " + LANE + name).orElse("");
  }
}
