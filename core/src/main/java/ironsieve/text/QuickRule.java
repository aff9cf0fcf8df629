package ironsieve.text;

import ironsieve.model.Application;
import ironsieve.model.Directory;
import ironsieve.model.Environment;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.NamedSet;
import ironsieve.model.Outcome;
import ironsieve.model.Parts;
import ironsieve.model.Rule;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.model.Verdict;
import ironsieve.model.Zone;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Stream;

/**
 * A rule as one sentence in the words of the probe line: {@code deny from Crew wifi as group Deck
 * crew to Internet using Chatterbay at mon-fri 08:00-18:00}. It begins with the outcome; the parts
 * may come in any order, each may hold several values, with or without commas between them, and
 * {@code not} before the first turns them round. What is left out is any.
 */
public final class QuickRule {

  private static final String END = " ,";

  /** One part of the sentence, and the fields its values may belong to, the likeliest first. */
  private enum Part {
    FROM("from", FieldName.FROM_ZONES, FieldName.FROM_NETWORKS),
    TO("to", FieldName.TO_ZONES, FieldName.TO_NETWORKS, FieldName.TO_SITES),
    AS("as", FieldName.PEOPLE),
    ON("on", FieldName.DEVICES),
    USING("using", FieldName.APPLICATIONS, FieldName.SERVICES),
    AT("at", FieldName.TIMES);

    private final String word;
    private final List<FieldName> fields;

    Part(String word, FieldName... fields) {
      this.word = word;
      this.fields = List.of(fields);
    }
  }

  private final Environment environment;
  private final Parts parts;

  /** Rules that may name what these rulebase parts and surroundings have. */
  public QuickRule(Parts parts, Environment environment) {
    this.parts = parts;
    this.environment = environment;
  }

  /** Whether a text begins like a rule and not like a probe. */
  public static boolean isOne(String text) {
    String first = text.strip().split("\\s", 2)[0].toLowerCase(Locale.ROOT);
    return Stream.of(Verdict.values()).anyMatch(verdict -> verdict.word().equals(first));
  }

  /**
   * Reads a rule; it has no id, name or note yet, is on and logs.
   *
   * @throws TextException at the place that cannot be read, saying what could stand there
   */
  public Rule parse(String text) {
    return new Walk(text).all();
  }

  /** Whether a text begins like the parts of a rule, and asks which rules have to do with them. */
  public static boolean isQuestion(String text) {
    String first = text.strip().split("\\s", 2)[0].toLowerCase(Locale.ROOT);
    return Stream.of(Part.values()).anyMatch(part -> part.word.equals(first));
  }

  /**
   * Reads a question: the parts of a rule without its outcome, such as {@code from 10.20.0.0/16 to
   * Internet using tcp/443}. Every part may hold several values.
   *
   * @throws TextException at the place that cannot be read, saying what could stand there
   */
  public Rule.Match question(String text) {
    return new Rule.Match(new Walk(text).parts(), Rule.Ports.ANY);
  }

  /**
   * What a single value can be about: a network where a connection comes from and where it goes, an
   * application in its use. Names that are known here go before values that are only spelled right.
   *
   * @return for each field it may stand in, a match on it; at least one
   * @throws TextException with what comes nearest, if it is nothing at all
   */
  public List<Rule.Match> about(String text) {
    String wanted = text.strip();
    List<Rule.Match> known = new ArrayList<>();
    List<Rule.Match> spelled = new ArrayList<>();
    for (Part part : Part.values()) {
      for (FieldName name : part.fields) {
        Optional<String> spelling =
            spellings(name.kind()).stream()
                .filter(one -> one.equalsIgnoreCase(wanted) || bare(one).equalsIgnoreCase(wanted))
                .findFirst();
        if (spelling.isPresent()) {
          known.add(match(name, spelling.get()));
        } else if (isLiteral(name.kind(), wanted)) {
          spelled.add(match(name, wanted));
        }
      }
    }
    if (known.isEmpty() && spelled.isEmpty()) {
      throw new TextException(
          0,
          "\""
              + PlainText.shown(wanted)
              + "\" is nothing known here"
              + nearest(wanted, Part.values()));
    }
    return known.isEmpty() ? spelled : known;
  }

  /** The names that come nearest to what was typed, as the end of a sentence. */
  private String nearest(String typed, Part... some) {
    Set<String> names = new TreeSet<>();
    for (Part part : some) {
      for (FieldName name : part.fields) {
        spellings(name.kind()).forEach(spelling -> names.add(bare(spelling)));
      }
    }
    List<String> near = Nearest.to(typed, names, 3);
    return near.isEmpty() ? "" : "; did you mean " + String.join(", ", near) + "?";
  }

  /** A spelling without the word that says what it is, such as {@code group}. */
  private static String bare(String spelling) {
    return spelling.replaceFirst("^(set|group|family|category|host|country|list) ", "");
  }

  private static Rule.Match match(FieldName name, String value) {
    return Rule.Match.any().with(name, Field.is(ValueText.parse(name.kind(), value)));
  }

  /** One pass over a text. */
  private final class Walk {
    private final String text;
    private int at;

    private Walk(String text) {
      this.text = text;
    }

    private Rule all() {
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

    private Map<FieldName, Field> parts() {
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
          List<String> names =
              verdict.shows()
                  ? parts.notices().stream()
                      .filter(notice -> notice.verdict() == verdict)
                      .map(notice -> notice.name())
                      .toList()
                  : word("in") ? parts.lanes().stream().map(lane -> lane.name()).toList() : null;
          if (names == null) {
            return Outcome.of(verdict);
          }
          skip();
          String name = longest(names);
          if (name == null) {
            throw new TextException(
                at, verdict.word() + " goes on with one of: " + String.join(", ", names));
          }
          return OutcomeText.parse(verdict.word() + (verdict.shows() ? " " : " in ") + name);
        }
      }
      throw new TextException(start, "a rule begins with allow, deny, reject, ask, stop or enrol");
    }

    private void part(Map<FieldName, Field> fields) {
      int start = at;
      Part part = null;
      for (Part candidate : Part.values()) {
        if (part == null && word(candidate.word)) {
          part = candidate;
        }
      }
      if (part == null) {
        throw new TextException(
            at,
            "cannot read \"" + text.substring(at) + "\"; from, to, as, on, using or at goes on");
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
                + nearest(rest(), part));
      }
    }

    private boolean value(Part part, Field.Sense sense, Map<FieldName, Field> fields) {
      for (FieldName name : part.fields) {
        String known = longest(spellings(name.kind()));
        if (known != null) {
          add(fields, name, sense, known);
          return true;
        }
      }
      if (Stream.of(Part.values()).anyMatch(next -> startsWith(next.word))) {
        return false;
      }
      boolean site = part == Part.TO && word("site");
      String literal = literal(part);
      if (part == Part.TO && !site && !looksLikeAPlace(literal)) {
        // Else a zone that is misspelt would become a host name, and the rule go to any zone.
        throw new TextException(
            at,
            "\""
                + PlainText.shown(literal)
                + "\" is no zone, network, host name or list known here"
                + nearest(rest(), part)
                + (literal.matches("[a-zA-Z0-9-]+")
                    ? " For a host name of one word write: site " + literal
                    : ""));
      }
      for (FieldName name : part.fields) {
        // A zone that is not known is no zone; other values may be new.
        if (name.kind() != ValueKind.ZONE && isSpelled(name.kind(), literal)) {
          at += literal.length();
          add(fields, name, sense, literal);
          return true;
        }
      }
      return false;
    }

    /** A host name has a dot, an address a dot or a colon; any other word only looks like one. */
    private boolean looksLikeAPlace(String literal) {
      return literal.indexOf('.') > 0 || literal.indexOf(':') >= 0 || literal.startsWith("*.");
    }

    /** What stands here up to the next part. */
    private String rest() {
      String rest = text.substring(at);
      int end = rest.length();
      for (Part next : Part.values()) {
        int found = rest.indexOf(" " + next.word + " ");
        end = found >= 0 ? Math.min(end, found) : end;
      }
      return rest.substring(0, end).strip();
    }

    /** Times hold spaces, so one goes up to the next comma or part; other values are one word. */
    private String literal(Part part) {
      return part == Part.AT ? rest() : text.substring(at).split("[\\s,]", 2)[0];
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

  /** Whether a text can only be a new value of a kind; every address would do as a host name. */
  private static boolean isLiteral(ValueKind kind, String text) {
    return kind != ValueKind.ZONE
        && isSpelled(kind, text)
        && (kind != ValueKind.SITE || (text.contains(".") && !isSpelled(ValueKind.NETWORK, text)));
  }

  private static boolean isSpelled(ValueKind kind, String text) {
    try {
      ValueText.parse(kind, text);
      return kind != ValueKind.APPLICATION && kind != ValueKind.PERSON && kind != ValueKind.DEVICE;
    } catch (TextException e) {
      return false;
    }
  }

  private static String a(String word) {
    return ("aeiou".indexOf(word.charAt(0)) >= 0 ? "an " : "a ") + word;
  }

  /** All values of a kind that have a name here. */
  private List<String> spellings(ValueKind kind) {
    List<String> all = new ArrayList<>();
    for (NamedSet set : parts.sets()) {
      if (set.kind() == kind) {
        all.add("set " + set.name());
      }
    }
    switch (kind) {
      case ZONE -> environment.zones().stream().map(Zone::name).forEach(all::add);
      case NETWORK -> {
        environment.atlas().lists().keySet().forEach(list -> all.add("list " + list));
        environment.atlas().hosts().keySet().forEach(host -> all.add("host " + host));
        environment.atlas().countries().keySet().forEach(code -> all.add("country " + code));
      }
      case SITE ->
          environment.atlas().siteCategories().forEach(category -> all.add("category " + category));
      case PERSON -> {
        all.addAll(List.of("identified", "unidentified"));
        environment.directory().groups().stream()
            .map(Directory.Group::name)
            .forEach(group -> all.add("group " + group));
        environment.directory().people().forEach(person -> all.add(person.login()));
      }
      case DEVICE ->
          environment
              .deviceKinds()
              .forEach(
                  device -> {
                    all.add(device);
                    all.add(device + ", healthy");
                    all.add(device + ", unhealthy");
                  });
      case APPLICATION -> {
        for (Application application : environment.catalogue().applications()) {
          all.add(application.name());
          application.features().forEach(f -> all.add(application.name() + "/" + f));
          all.add("category " + application.grouping().category());
          all.add("family " + application.grouping().family());
        }
        all.add("unidentified");
      }
      default -> {
        // Services and times are written out.
      }
    }
    return all;
  }
}
