package ironsieve.text;

import java.util.ArrayList;
import java.util.List;

/**
 * One line of a rulebase's text, read word by word: bare words end at a space, names that hold
 * spaces stand in double quotes, in which {@code \"} and {@code \\} stand for themselves.
 */
final class FileLine {

  /** The longest name of anything. */
  static final int MOST_LETTERS = 200;

  private final String text;
  private final int number;
  private int at;

  /**
   * A line.
   *
   * @param number counted from 1
   */
  FileLine(String text, int number) {
    this.text = text.stripTrailing();
    this.number = number;
    skip();
  }

  int number() {
    return number;
  }

  /** How many spaces it begins with. */
  int indent() {
    return text.length() - text.stripLeading().length();
  }

  boolean isBlank() {
    return text.isBlank();
  }

  boolean isComment() {
    return text.stripLeading().startsWith("#");
  }

  String text() {
    return text;
  }

  private void skip() {
    while (at < text.length() && text.charAt(at) == ' ') {
      at++;
    }
  }

  boolean atEnd() {
    return at >= text.length();
  }

  FileTextException wrong(String message) {
    return wrongAt(at, message);
  }

  FileTextException wrongAt(int position, String message) {
    int odd = PlainText.oddSpace(text);
    return odd < 0
        ? new FileTextException(number, position + 1, message)
        : new FileTextException(number, odd + 1, PlainText.oddSpaceWords(text.charAt(odd)));
  }

  /** The column where the next word begins, from 0. */
  int position() {
    return at;
  }

  /** Takes a word, or several with any spaces between, if they come next. */
  boolean take(String words) {
    int start = at;
    for (int from = 0; from <= words.length(); ) {
      int space = words.indexOf(' ', from);
      int length = (space < 0 ? words.length() : space) - from;
      int end = at + length;
      boolean comes =
          text.regionMatches(at, words, from, length)
              && (end == text.length() || " :".indexOf(text.charAt(end)) >= 0);
      if (!comes) {
        at = start;
        return false;
      }
      at = end;
      skip();
      from += length + 1;
    }
    return true;
  }

  /** Takes a sign such as a colon, or fails. */
  void need(String sign, String where) {
    if (!text.startsWith(sign, at)) {
      throw wrong("expected \"" + sign + "\" " + where);
    }
    at += sign.length();
    skip();
  }

  /** The next bare word. */
  String word(String what) {
    int start = at;
    while (at < text.length() && text.charAt(at) != ' ' && text.charAt(at) != ':') {
      at++;
    }
    if (start == at) {
      throw wrong("expected " + what);
    }
    String word = text.substring(start, at);
    skip();
    return word;
  }

  /** The next name, in quotes; spaces around it would be lost sooner or later. */
  String name(String what) {
    int start = at;
    String name = quoted(what);
    PlainText.nameProblem(name, MOST_LETTERS)
        .ifPresent(
            problem -> {
              throw wrongAt(start, problem);
            });
    return name;
  }

  /** The name of a rule, which may be empty. */
  String ruleName() {
    return text.startsWith("\"\"", at) ? quoted("") : name("the rule's name");
  }

  /** The next text in quotes. */
  String quoted(String what) {
    if (atEnd() || text.charAt(at) != '"') {
      throw wrong("expected " + what + " in double quotes");
    }
    StringBuilder name = new StringBuilder();
    int open = at++;
    while (at < text.length() && text.charAt(at) != '"') {
      if (text.charAt(at) == '\\' && at + 1 < text.length()) {
        at++;
      }
      name.append(text.charAt(at++));
    }
    if (atEnd()) {
      throw wrongAt(open, "this quote is not closed");
    }
    at++;
    skip();
    return name.toString();
  }

  /** All that is left of the line. */
  String rest() {
    String rest = text.substring(at);
    at = text.length();
    return rest;
  }

  /** Fails if anything is left. */
  void end() {
    if (!atEnd()) {
      throw wrong("expected the end of the line");
    }
  }

  /** One item of a list, and the column where it begins. */
  record Item(String text, int position) {}

  /** The rest as a list with semicolons between; an item that holds one stands in quotes. */
  List<Item> items(String what) {
    List<Item> items = new ArrayList<>();
    do {
      skip();
      int start = at;
      String item;
      if (!atEnd() && text.charAt(at) == '"') {
        item = quoted(what);
      } else {
        while (at < text.length() && text.charAt(at) != ';') {
          at++;
        }
        item = text.substring(start, at).strip();
      }
      if (item.isEmpty()) {
        throw wrongAt(start, "expected " + what);
      }
      items.add(new Item(item, start));
      if (!atEnd() && text.charAt(at) != ';') {
        throw wrong("expected \";\" or the end of the line");
      }
    } while (at++ < text.length());
    at = text.length();
    return items;
  }

  /** A name as it stands in quotes. */
  static String quote(String name) {
    return '"' + name.replace("\\", "\\\\").replace("\"", "\\\"") + '"';
  }

  /** An item as it stands in a list. */
  static String item(String text) {
    boolean plain = text.indexOf(';') < 0 && !text.startsWith("\"") && text.strip().equals(text);
    return plain ? text : quote(text);
  }
}
