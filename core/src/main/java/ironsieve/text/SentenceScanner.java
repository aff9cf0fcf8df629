package ironsieve.text;

import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** A place in a sentence that moves on as words and names are taken. Used once. */
final class SentenceScanner {

  private final String text;
  private final String between;
  private int at;

  /**
   * At the beginning of a text.
   *
   * @param between the characters that stand between words
   */
  SentenceScanner(String text, String between) {
    this.text = text;
    this.between = between;
  }

  /** How many characters were taken. */
  int at() {
    return at;
  }

  /** Goes to a place. */
  void go(int to) {
    at = to;
  }

  boolean isAtEnd() {
    return at == text.length();
  }

  /** Whether a character stands right before the place. */
  boolean isAfter(char one) {
    return at > 0 && text.charAt(at - 1) == one;
  }

  /** What stands at the place; a space at the end. */
  char next() {
    return isAtEnd() ? ' ' : text.charAt(at);
  }

  /** What has not been taken. */
  String rest() {
    return text.substring(at);
  }

  /** Takes what stands between words. */
  void skip() {
    while (!isAtEnd() && between.indexOf(text.charAt(at)) >= 0) {
      at++;
    }
  }

  /** Whether a word stands here, whatever its capitals. */
  boolean isAt(String word) {
    int end = at + word.length();
    return text.regionMatches(true, at, word, 0, word.length())
        && (end == text.length() || between.indexOf(text.charAt(end)) >= 0);
  }

  /** Takes a word, if it stands here, and what comes between it and the next. */
  boolean word(String word) {
    if (!isAt(word)) {
      return false;
    }
    at += word.length();
    skip();
    return true;
  }

  /** Takes the part that begins here, if one does. */
  Optional<SentencePart> part() {
    for (SentencePart part : SentencePart.values()) {
      if (word(part.word())) {
        return Optional.of(part);
      }
    }
    return Optional.empty();
  }

  /** Whether a part begins here. */
  boolean isAtPart() {
    int start = at;
    boolean begins = part().isPresent();
    at = start;
    return begins;
  }

  /** Takes the longest of some names, if one stands here; {@code more} may come right after it. */
  Optional<String> name(Spellings names, String more) {
    Optional<String> found = names.at(text, at, between + more);
    found.ifPresent(name -> at += name.length());
    return found;
  }

  /** Takes what a pattern finds here. */
  Optional<String> take(Pattern pattern) {
    Matcher matcher = pattern.matcher(text).region(at, text.length());
    if (!matcher.lookingAt()) {
      return Optional.empty();
    }
    at = matcher.end();
    return Optional.of(matcher.group());
  }
}
