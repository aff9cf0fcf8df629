package ironsieve.text;

import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Outcome;
import ironsieve.model.Rule;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.model.Verdict;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;

/** Reads a sentence part by part, in one pass; a reader is used once. */
final class QuickRuleReader {

  private static final String END = " ,";

  private final QuickRuleNames names;
  private final String text;
  private int at;

  QuickRuleReader(QuickRuleNames names, String text) {
    this.names = names;
    this.text = text;
  }

  /** All of a rule: its outcome and its parts. */
  Rule all() {
    skip();
    Outcome outcome = outcome();
    return new Rule(
        "",
        "",
        Rule.State.ON,
        new Rule.Match(parts(), Rule.Ports.ANY),
        new Rule.Then(outcome, Rule.Logging.LOGGED, Optional.empty()),
        "");
  }

  /** The parts of a rule without its outcome. */
  Map<FieldName, Field> parts() {
    Map<FieldName, Field> fields = new EnumMap<>(FieldName.class);
    skip();
    while (at < text.length()) {
      part(fields);
    }
    return fields;
  }

  private Outcome outcome() {
    int start = at;
    for (Verdict verdict : Verdict.values()) {
      if (word(verdict.word())) {
        List<String> named =
            verdict.shows()
                ? names.parts().notices().stream()
                    .filter(notice -> notice.verdict() == verdict)
                    .map(notice -> notice.name())
                    .toList()
                : word("in")
                    ? names.parts().lanes().stream().map(lane -> lane.name()).toList()
                    : null;
        if (named == null) {
          return Outcome.of(verdict);
        }
        skip();
        String name = longest(named);
        if (name == null) {
          throw new TextException(
              at, verdict.word() + " goes on with one of: " + String.join(", ", named));
        }
        return OutcomeText.parse(verdict.word() + (verdict.shows() ? " " : " in ") + name);
      }
    }
    throw new TextException(start, "a rule begins with allow, deny, reject, ask, stop or enrol");
  }

  private void part(Map<FieldName, Field> fields) {
    int start = at;
    QuickRulePart part = null;
    for (QuickRulePart candidate : QuickRulePart.values()) {
      if (part == null && word(candidate.word)) {
        part = candidate;
      }
    }
    if (part == null) {
      throw new TextException(
          at, "cannot read \"" + text.substring(at) + "\"; from, to, as, on, using or at goes on");
    }
    skip();
    Field.Sense sense = word("not") ? Field.Sense.IS_NOT : Field.Sense.IS;
    skip();
    boolean any = false;
    while (at < text.length() && value(part, sense, fields)) {
      any = true;
      skip();
    }
    if (!any) {
      throw new TextException(
          at < text.length() ? at : start,
          "cannot read what comes after \""
              + part.word
              + "\" as "
              + String.join(" or ", part.fields.stream().map(field -> a(field.label())).toList())
              + names.nearest(rest(), part));
    }
  }

  private boolean value(QuickRulePart part, Field.Sense sense, Map<FieldName, Field> fields) {
    for (FieldName name : part.fields) {
      String known = longest(names.spellings(name.kind()));
      if (known != null) {
        add(fields, name, sense, known + leftOut(known));
        return true;
      }
    }
    if (Stream.of(QuickRulePart.values()).anyMatch(next -> startsWith(next.word))) {
      return false;
    }
    boolean site = part == QuickRulePart.TO && word("site");
    String literal = literal(part);
    if (part == QuickRulePart.TO && !site && !looksLikeAPlace(literal)) {
      // Else a zone that is misspelt would become a host name, and the rule go to any zone.
      throw new TextException(
          at,
          "\""
              + PlainText.shown(literal)
              + "\" is no zone, network, host name or list known here"
              + names.nearest(rest(), part)
              + (literal.matches("[a-zA-Z0-9-]+")
                  ? " For a host name of one word write: site " + literal
                  : ""));
    }
    for (FieldName name : part.fields) {
      // A zone that is not known is no zone; other values may be new.
      if (name.kind() != ValueKind.ZONE && QuickRuleNames.isSpelled(name.kind(), literal)) {
        at += literal.length();
        add(fields, name, sense, literal);
        return true;
      }
    }
    return false;
  }

  /** The applications that are left out of a category or a family, as its value says them. */
  private String leftOut(String whole) {
    if (!FilterText.isWhole(whole)) {
      return "";
    }
    StringBuilder said = new StringBuilder();
    String next = FilterText.BUT_NOT;
    int start = at;
    skip();
    while (startsWith(next.strip())) {
      at += next.strip().length();
      skip();
      String name = longest(names.applications());
      if (name == null) {
        throw new TextException(
            at,
            "say which application of the "
                + whole
                + " is left out"
                + names.nearest(rest(), QuickRulePart.USING));
      }
      said.append(next).append(name);
      next = FilterText.NOR;
      start = at;
      skip();
    }
    at = start;
    return said.toString();
  }

  /** A host name has a dot, an address a dot or a colon; any other word only looks like one. */
  private boolean looksLikeAPlace(String literal) {
    return literal.indexOf('.') > 0 || literal.indexOf(':') >= 0 || literal.startsWith("*.");
  }

  /** What stands here up to the next part. */
  private String rest() {
    String rest = text.substring(at);
    int end = rest.length();
    for (QuickRulePart next : QuickRulePart.values()) {
      int found = rest.indexOf(" " + next.word + " ");
      end = found >= 0 ? Math.min(end, found) : end;
    }
    return rest.substring(0, end).strip();
  }

  /** Times hold spaces, so one goes up to the next comma or part; other values are one word. */
  private String literal(QuickRulePart part) {
    return part == QuickRulePart.AT ? rest() : text.substring(at).split("[\\s,]", 2)[0];
  }

  private boolean word(String word) {
    if (!startsWith(word)) {
      return false;
    }
    at += word.length();
    skip();
    return true;
  }

  private boolean startsWith(String word) {
    int end = at + word.length();
    return text.regionMatches(true, at, word, 0, word.length())
        && (end == text.length() || END.indexOf(text.charAt(end)) >= 0);
  }

  /** The longest of some spellings that stands here, taken; null if none does. */
  private String longest(List<String> spellings) {
    String best =
        spellings.stream()
            .filter(this::startsWith)
            .max(Comparator.comparingInt(String::length))
            .orElse(null);
    at += best == null ? 0 : best.length();
    return best;
  }

  private void skip() {
    while (at < text.length() && END.indexOf(text.charAt(at)) >= 0) {
      at++;
    }
  }

  private static void add(
      Map<FieldName, Field> fields, FieldName name, Field.Sense sense, String text) {
    List<Value> values = new ArrayList<>();
    if (fields.containsKey(name)) {
      values.addAll(fields.get(name).values());
    }
    values.add(ValueText.parse(name.kind(), text));
    fields.put(name, new Field(sense, values));
  }

  private static String a(String word) {
    return ("aeiou".indexOf(word.charAt(0)) >= 0 ? "an " : "a ") + word;
  }
}
