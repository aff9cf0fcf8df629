package ironsieve.text;

import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Outcome;
import ironsieve.model.Rule;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.model.Verdict;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Reads a sentence part by part, in one pass; a reader is used once. */
final class QuickRuleReader {

  private static final String END = " ,";

  private final NameIndex names;
  private final SentenceScanner scan;

  QuickRuleReader(NameIndex names, String text) {
    this.names = names;
    scan = new SentenceScanner(text, END);
  }

  /** All of a rule: its outcome and its parts. */
  Rule all() {
    scan.skip();
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
    scan.skip();
    while (!scan.isAtEnd()) {
      part(fields);
    }
    return fields;
  }

  private Outcome outcome() {
    int start = scan.at();
    for (Verdict verdict : Verdict.values()) {
      if (scan.word(verdict.word())) {
        List<String> named =
            verdict.shows()
                ? names.parts().notices().stream()
                    .filter(notice -> notice.verdict() == verdict)
                    .map(notice -> notice.name())
                    .toList()
                : scan.word("in")
                    ? names.parts().lanes().stream().map(lane -> lane.name()).toList()
                    : null;
        if (named == null) {
          return Outcome.of(verdict);
        }
        scan.skip();
        String name = scan.name(new Spellings(named), "").orElse(null);
        if (name == null) {
          throw new TextException(
              scan.at(), verdict.word() + " goes on with one of: " + String.join(", ", named));
        }
        return OutcomeText.parse(verdict.word() + (verdict.shows() ? " " : " in ") + name);
      }
    }
    throw new TextException(start, "a rule begins with allow, deny, reject, ask, stop or enrol");
  }

  private void part(Map<FieldName, Field> fields) {
    int start = scan.at();
    SentencePart part =
        scan.part()
            .orElseThrow(
                () ->
                    new TextException(
                        start,
                        "cannot read \""
                            + scan.rest()
                            + "\"; from, to, as, on, using or at goes on"));
    scan.skip();
    Field.Sense sense = scan.word("not") ? Field.Sense.IS_NOT : Field.Sense.IS;
    scan.skip();
    boolean any = false;
    while (!scan.isAtEnd() && value(part, sense, fields)) {
      any = true;
      scan.skip();
    }
    if (!any) {
      throw new TextException(
          scan.isAtEnd() ? start : scan.at(),
          "cannot read what comes after \""
              + part.word()
              + "\" as "
              + String.join(" or ", part.fields().stream().map(field -> a(field.label())).toList())
              + names.nearest(rest(), part));
    }
  }

  private boolean value(SentencePart part, Field.Sense sense, Map<FieldName, Field> fields) {
    for (FieldName name : part.fields()) {
      Optional<String> known = scan.name(names.of(name.kind()), "");
      if (known.isPresent()) {
        add(fields, name, sense, known.get() + leftOut(known.get()));
        return true;
      }
    }
    if (scan.isAtPart()) {
      return false;
    }
    boolean site = part == SentencePart.TO && scan.word("site");
    String literal = literal(part);
    if (part == SentencePart.TO && !site && !looksLikeAPlace(literal)) {
      // Else a zone that is misspelt would become a host name, and the rule go to any zone.
      throw new TextException(
          scan.at(),
          "\""
              + PlainText.visible(literal)
              + "\" is no zone, network, host name or list known here"
              + names.nearest(rest(), part)
              + (literal.matches("[a-zA-Z0-9-]+")
                  ? " For a host name of one word write: site " + literal
                  : ""));
    }
    for (FieldName name : part.fields()) {
      // A zone that is not known is no zone; other values may be new.
      if (name.kind() != ValueKind.ZONE && SingleValue.isSpelled(name.kind(), literal)) {
        scan.go(scan.at() + literal.length());
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
    int start = scan.at();
    scan.skip();
    while (scan.isAt(next.strip())) {
      scan.word(next.strip());
      Optional<String> name = scan.name(names.applications(), "");
      if (name.isEmpty()) {
        throw new TextException(
            scan.at(),
            "say which application of the "
                + whole
                + " is left out"
                + names.nearest(rest(), SentencePart.USING));
      }
      said.append(next).append(name.get());
      next = FilterText.NOR;
      start = scan.at();
      scan.skip();
    }
    scan.go(start);
    return said.toString();
  }

  /** A host name has a dot, an address a dot or a colon; any other word only looks like one. */
  private boolean looksLikeAPlace(String literal) {
    return literal.indexOf('.') > 0 || literal.indexOf(':') >= 0 || literal.startsWith("*.");
  }

  /** What stands here up to the next part. */
  private String rest() {
    String rest = scan.rest();
    int end = rest.length();
    for (SentencePart next : SentencePart.values()) {
      int found = rest.indexOf(" " + next.word() + " ");
      end = found >= 0 ? Math.min(end, found) : end;
    }
    return rest.substring(0, end).strip();
  }

  /** Times hold spaces, so one goes up to the next comma or part; other values are one word. */
  private String literal(SentencePart part) {
    return part == SentencePart.AT ? rest() : scan.rest().split("[\\s,]", 2)[0];
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
