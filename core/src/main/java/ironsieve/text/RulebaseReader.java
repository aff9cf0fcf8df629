package ironsieve.text;

import ironsieve.model.Chapter;
import ironsieve.model.DecryptionRule;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Lane;
import ironsieve.model.NamedSet;
import ironsieve.model.Notice;
import ironsieve.model.Outcome;
import ironsieve.model.Parts;
import ironsieve.model.Rule;
import ironsieve.model.RuleMetadata;
import ironsieve.model.Rulebase;
import ironsieve.model.UsageSheet;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.model.Verdict;
import java.time.LocalDate;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Supplier;

/**
 * Reads a rulebase's text; the grammar is in {@code docs/formats.md}. Line by line, by recursive
 * descent: what begins at the margin is an item, what is indented belongs to the item above it.
 * Comments are kept with the line they stand before; a line is known by its item's kind and name
 * and, inside an item, by its own first words.
 */
public final class RulebaseReader {

  private static final String NOTE = "note";

  private final List<FileLine> lines = new ArrayList<>();
  private final Map<String, List<String>> comments = new HashMap<>();
  private final List<String> pending = new ArrayList<>();
  private int next;

  private String name = "";
  private Verdict defaultVerdict = Verdict.DENY;
  private Lane.Rates capacity = Lane.Rates.NONE;
  private final List<NamedSet> sets = new ArrayList<>();
  private final List<UsageSheet> sheets = new ArrayList<>();
  private final List<Notice> notices = new ArrayList<>();
  private final List<Lane> lanes = new ArrayList<>();
  private final List<DecryptionRule> decryption = new ArrayList<>();
  private final List<Chapter> chapters = new ArrayList<>();
  private final Set<String> taken = new HashSet<>();
  private final Map<String, Integer> said = new HashMap<>();

  /** How a field is called in text: {@code from zones}. */
  private static final Map<FieldName, String> FIELD_WORDS = new EnumMap<>(FieldName.class);

  static {
    for (FieldName name : FieldName.values()) {
      FIELD_WORDS.put(name, name.key().replace('.', ' '));
    }
  }

  private RulebaseReader(String text) {
    String[] raw = SourceText.checked(text).split("\r?\n", -1);
    for (int i = 0; i < raw.length; i++) {
      if (raw[i].indexOf('\t') >= 0) {
        throw new FileTextException(
            i + 1, raw[i].indexOf('\t') + 1, "expected spaces; a tab has no fixed width");
      }
      lines.add(new FileLine(raw[i], i + 1));
    }
  }

  /**
   * Reads a file.
   *
   * @throws FileTextException at the first thing that cannot be read, with what was expected
   */
  public static RulebaseFile read(String text) {
    RulebaseReader reader = new RulebaseReader(text);
    reader.all();
    return reader.file();
  }

  /**
   * Reads rules on their own, as {@link RulebaseWriter#rules} writes them: a file of one chapter
   * that holds them.
   *
   * @throws FileTextException at the first thing that cannot be read, with what was expected
   */
  public static RulebaseFile rules(String text) {
    RulebaseReader reader = new RulebaseReader(text);
    reader.chapters.add(new Chapter("rules", "Rules", "", List.of()));
    Optional<FileLine> line;
    while ((line = reader.take(0)).isPresent()) {
      if (!line.get().take("rule")) {
        throw line.get().wrong("expected: rule ID \"NAME\"");
      }
      reader.rule(line.get());
    }
    if (reader.taken.isEmpty()) {
      throw new FileTextException(1, 1, "expected: rule ID \"NAME\"");
    }
    return reader.file();
  }

  /**
   * The items of a list on its own, as it stands after a field's name.
   *
   * @throws FileTextException in line 1, if a quote is not closed or an item is missing
   */
  public static List<String> items(String list) {
    return new FileLine(list, 1).items("a value").stream().map(FileLine.Item::text).toList();
  }

  private RulebaseFile file() {
    Parts parts = new Parts(sets, sheets, notices, lanes, decryption, capacity);
    return new RulebaseFile(new Rulebase(name, chapters, parts, defaultVerdict), comments);
  }

  private void all() {
    Optional<FileLine> first = take(0);
    if (first.isEmpty() || !first.get().take("rulebase")) {
      throw first
          .map(line -> line.wrong("expected: rulebase \"NAME\""))
          .orElseGet(() -> new FileTextException(1, 1, "expected: rulebase \"NAME\""));
    }
    name = first.get().name("the rulebase's name");
    first.get().end();
    comment("rulebase");
    header();
    Optional<FileLine> line;
    while ((line = take(0)).isPresent()) {
      item(line.get());
    }
    comment("");
  }

  /** The next line that says something, if it is indented by so much; keeps comments before it. */
  private Optional<FileLine> take(int indent) {
    for (int at = next; at < lines.size(); at++) {
      FileLine line = lines.get(at);
      if (line.isBlank() || line.isComment()) {
        continue;
      }
      if (line.indent() < indent) {
        return Optional.empty();
      }
      if (line.indent() > indent) {
        throw line.wrong("expected at most " + indent + " spaces before this line");
      }
      gather(at);
      next = at + 1;
      return Optional.of(line);
    }
    if (indent == 0) {
      gather(lines.size());
      next = lines.size();
    }
    return Optional.empty();
  }

  private void gather(int end) {
    for (int at = next; at < end; at++) {
      if (lines.get(at).isComment()) {
        pending.add(lines.get(at).text().strip());
      }
    }
  }

  private void comment(String key) {
    if (!pending.isEmpty()) {
      comments.computeIfAbsent(key, k -> new ArrayList<>()).addAll(pending);
      pending.clear();
    }
  }

  private void header() {
    Optional<FileLine> line;
    while ((line = take(2)).isPresent()) {
      FileLine at = line.get();
      // "last line" is what older files say.
      if (at.take("default verdict") || at.take("last line")) {
        only(at, "rulebase", "default verdict");
        int start = at.position();
        Outcome outcome = outcome(at);
        if (outcome.verdict().shows() || outcome.lane().isPresent()) {
          throw at.wrongAt(start, "expected allow, deny or reject");
        }
        defaultVerdict = outcome.verdict();
      } else if (at.take("capacity")) {
        only(at, "rulebase", "capacity");
        capacity = rates(at);
      } else {
        throw at.wrong("expected: default verdict, or: capacity");
      }
    }
  }

  private void item(FileLine line) {
    if (line.take("set")) {
      set(line);
    } else if (line.take("notice")) {
      notice(line);
    } else if (line.take("lane")) {
      lane(line);
    } else if (line.take("sheet")) {
      sheet(line);
    } else if (line.take("decrypt") || line.take("reading open")) {
      // "reading open" and "reading leave" are what older files say.
      decryption(line, DecryptionRule.Decision.DECRYPT);
    } else if (line.take("leave encrypted") || line.take("reading leave")) {
      decryption(line, DecryptionRule.Decision.LEAVE_ENCRYPTED);
    } else if (line.take("chapter")) {
      chapter(line);
    } else if (line.take("rule")) {
      rule(line);
    } else {
      throw line.wrong(
          "expected one of: set, notice, lane, sheet, decrypt, leave encrypted, chapter,"
              + " rule; or two spaces before"
              + " a line that belongs to the item above");
    }
  }

  /** The key of an item's comments; an item is there once. */
  private String begin(FileLine line, String key) {
    if (!taken.add(key)) {
      throw line.wrongAt(0, "there already is a " + key);
    }
    comment(key);
    return key;
  }

  private interface Member {
    boolean take(FileLine line, String key);
  }

  /** The indented lines of an item. */
  private void members(String item, String expected, Member member) {
    Optional<FileLine> line;
    while ((line = take(2)).isPresent()) {
      if (!member.take(line.get(), item)) {
        throw line.get().wrong("expected " + expected);
      }
      line.get().end();
    }
  }

  private void member(String item, String what) {
    comment(item + "|" + what);
  }

  /** A member that an item has once; a second one would silently take the place of the first. */
  private void only(FileLine line, String item, String what) {
    Integer first = said.putIfAbsent(item + "|" + what, line.number());
    if (first != null) {
      throw line.wrongAt(
          line.indent(), what + " stands here twice; it already stands in line " + first);
    }
    member(item, what);
  }

  /** A note may go on over several lines, each with the word before it. */
  private final class Note {
    private final StringBuilder text = new StringBuilder();
    private final String word;

    private Note() {
      this(NOTE);
    }

    private Note(String word) {
      this.word = word;
    }

    private boolean take(FileLine line, String item) {
      if (!line.take(word)) {
        return false;
      }
      member(item, word);
      text.append(text.length() == 0 ? "" : "\n").append(line.rest());
      return true;
    }

    @Override
    public String toString() {
      return text.toString();
    }
  }

  private void set(FileLine line) {
    int start = line.position();
    ValueKind kind = made(line, start, () -> ValueKind.ofWord(line.word("a kind of set")));
    String own = line.name("the set's name");
    line.end();
    String key = begin(line, "set " + kind.word() + " " + own);
    Note note = new Note();
    List<Value> values = new ArrayList<>();
    members(
        key,
        "note, or: values:",
        (at, item) -> {
          if (at.take("values")) {
            member(item, "values");
            at.need(":", "after values");
            values.addAll(values(at, kind));
            return true;
          }
          return note.take(at, item);
        });
    sets.add(new NamedSet(own, kind, values, note.toString()));
  }

  private static List<Value> values(FileLine line, ValueKind kind) {
    List<Value> values = new ArrayList<>();
    for (FileLine.Item item : line.items(kind.one())) {
      values.add(made(line, item.position(), () -> ValueText.parse(kind, item.text())));
    }
    return values;
  }

  /** Makes something, and says where in the file it went wrong. */
  private static <T> T made(FileLine line, int position, Supplier<T> maker) {
    try {
      return maker.get();
    } catch (TextException e) {
      throw line.wrongAt(position + e.position(), e.getMessage());
    } catch (IllegalArgumentException e) {
      throw line.wrongAt(position, e.getMessage());
    }
  }

  private static Outcome outcome(FileLine line) {
    int start = line.position();
    return made(line, start, () -> OutcomeText.parse(line.rest()));
  }

  private void notice(FileLine line) {
    int start = line.position();
    Verdict verdict =
        made(
            line,
            start,
            () ->
                Verdict.valueOf(
                    line.word("ask, stop or enrol").toUpperCase(java.util.Locale.ROOT)));
    String own = line.name("the notice's name");
    line.end();
    String key = begin(line, "notice " + own);
    StringBuilder text = new StringBuilder();
    members(
        key,
        "text",
        (at, item) -> {
          if (!at.take("text")) {
            return false;
          }
          member(item, "text");
          text.append(text.length() == 0 ? "" : "\n").append(at.rest());
          return true;
        });
    notices.add(made(line, start, () -> new Notice(own, verdict, text.toString())));
  }

  private void lane(FileLine line) {
    String own = line.name("the lane's name");
    Lane.Scope scope = scope(line);
    line.end();
    String key = begin(line, "lane " + own);
    Note note = new Note();
    Lane.Rates[] rates = {Lane.Rates.NONE, Lane.Rates.NONE};
    int[] clients = {0};
    members(
        key,
        "ceiling, guarantee, clients or note",
        (at, item) -> {
          if (at.take("ceiling")) {
            only(at, item, "ceiling");
            rates[0] = rates(at);
          } else if (at.take("guarantee")) {
            only(at, item, "guarantee");
            rates[1] = rates(at);
          } else if (at.take("clients")) {
            only(at, item, "clients");
            clients[0] = (int) number(at, "a number of clients");
          } else {
            return note.take(at, item);
          }
          return true;
        });
    lanes.add(
        made(line, 0, () -> new Lane(own, scope, rates[0], rates[1], clients[0], note.toString())));
  }

  private static Lane.Scope scope(FileLine line) {
    if (line.take("for the gateway")) {
      return Lane.Scope.GATEWAY;
    }
    if (line.take("for each rule")) {
      return Lane.Scope.RULE;
    }
    if (line.take("for each client")) {
      return Lane.Scope.CLIENT;
    }
    throw line.wrong("expected: for the gateway, for each rule, or for each client");
  }

  private static Lane.Rates rates(FileLine line) {
    long up = rate(line, "a number of kbit/s from the client");
    // "there" and "back" are what older files say.
    if (!line.take("up") && !line.take("there")) {
      throw line.wrong("expected: up");
    }
    long down = rate(line, "a number of kbit/s to the client");
    if (!line.take("down") && !line.take("back")) {
      throw line.wrong("expected: down");
    }
    return made(line, 0, () -> new Lane.Rates(up, down));
  }

  /** A number and its unit; without one it is kbit/s. */
  private static long rate(FileLine line, String what) {
    int start = line.position();
    long number = number(line, what);
    long unit = line.take("Gbit/s") ? 1_000_000 : line.take("Mbit/s") ? 1_000 : 1;
    line.take("kbit/s");
    if (number > Long.MAX_VALUE / unit) {
      throw line.wrongAt(start, "that is more than can be counted in kbit/s");
    }
    return number * unit;
  }

  private static long number(FileLine line, String what) {
    int start = line.position();
    String word = line.word(what);
    if (!word.matches("\\d{1,9}")) {
      throw line.wrongAt(start, "expected " + what + ", not \"" + word + "\"");
    }
    return Long.parseLong(word);
  }

  private void sheet(FileLine line) {
    String own = line.name("the sheet's name");
    line.end();
    String key = begin(line, "sheet " + own);
    Note note = new Note();
    List<UsageSheet.Line> inside = new ArrayList<>();
    Outcome[] otherwise = {Outcome.of(Verdict.ALLOW)};
    members(
        key,
        "note, otherwise: OUTCOME, or: on APPLICATION: OUTCOME",
        (at, item) -> {
          if (at.take("otherwise")) {
            only(at, item, "otherwise");
            at.need(":", "after otherwise");
            otherwise[0] = outcome(at);
          } else if (at.take("on")) {
            int start = at.position();
            String rest = at.rest();
            int colon = rest.lastIndexOf(": ");
            if (colon < 0) {
              throw at.wrong("expected \": \" and an outcome");
            }
            String about = rest.substring(0, colon);
            member(item, "on " + about);
            Value value = made(at, start, () -> ValueText.parse(ValueKind.APPLICATION, about));
            Outcome outcome =
                made(at, start + colon + 2, () -> OutcomeText.parse(rest.substring(colon + 2)));
            inside.add(made(at, start, () -> new UsageSheet.Line(value, outcome)));
            made(at, start, () -> new UsageSheet(own, inside, otherwise[0], ""));
          } else {
            return note.take(at, item);
          }
          return true;
        });
    sheets.add(new UsageSheet(own, inside, otherwise[0], note.toString()));
  }

  private void decryption(FileLine line, DecryptionRule.Decision decision) {
    String id = line.word("an identifier without spaces");
    line.end();
    String key = begin(line, "decryption rule " + id);
    Note note = new Note();
    Map<FieldName, Field> fields = new EnumMap<>(FieldName.class);
    members(key, "a field or note", (at, item) -> note.take(at, item) || field(at, item, fields));
    decryption.add(
        made(
            line,
            0,
            () ->
                new DecryptionRule(
                    id, new Rule.Match(fields, Rule.Ports.ANY), decision, note.toString())));
  }

  private boolean field(FileLine line, String item, Map<FieldName, Field> fields) {
    for (FieldName candidate : FieldName.values()) {
      int start = line.position();
      if (line.take(FIELD_WORDS.get(candidate))) {
        if (fields.containsKey(candidate)) {
          throw line.wrongAt(start, "this field stands here twice");
        }
        member(item, candidate.key());
        Field.Sense sense = line.take("not") ? Field.Sense.IS_NOT : Field.Sense.IS;
        line.need(":", "after the field's name");
        fields.put(candidate, new Field(sense, values(line, candidate.kind())));
        return true;
      }
    }
    return false;
  }

  private void chapter(FileLine line) {
    String id = line.word("an identifier without spaces");
    String title = line.name("the chapter's title");
    line.end();
    String key = begin(line, "chapter " + id);
    Note note = new Note();
    members(key, NOTE, note::take);
    chapters.add(new Chapter(id, title, note.toString(), List.of()));
  }

  private void rule(FileLine line) {
    if (chapters.isEmpty()) {
      throw line.wrongAt(0, "expected a chapter before the first rule");
    }
    String id = line.word("an identifier without spaces");
    String own = line.atEnd() || line.text().charAt(line.position()) != '"' ? "" : line.ruleName();
    Rule.State state = line.take("off") ? Rule.State.OFF : Rule.State.ON;
    line.end();
    String key = begin(line, "rule " + id);
    RuleLines body = new RuleLines();
    members(
        key,
        "then:, sheet:, a field such as from zones:, usual ports, not logged, owner, change, review by, or note",
        body::take);
    if (body.outcome == null) {
      throw line.wrongAt(0, "rule " + id + " does not say what happens; expected: then: OUTCOME");
    }
    Rule made =
        made(
            line,
            0,
            () ->
                new Rule(
                    id,
                    own,
                    state,
                    new Rule.Match(body.fields, body.ports),
                    new Rule.Then(body.outcome, body.logging, body.sheet),
                    new RuleMetadata(
                        body.note.toString(),
                        body.owner.toString(),
                        body.changes.toString(),
                        body.reviewBy)));
    Chapter last = chapters.remove(chapters.size() - 1);
    List<Rule> rules = new ArrayList<>(last.rules());
    rules.add(made);
    chapters.add(new Chapter(last.id(), last.title(), last.note(), rules));
  }

  private static LocalDate day(FileLine line, int start, String text) {
    try {
      return LocalDate.parse(text.strip());
    } catch (DateTimeParseException e) {
      throw line.wrongAt(start, "expected a day such as 2027-01-31");
    }
  }

  /** The lines of one rule. */
  private final class RuleLines {
    private final Map<FieldName, Field> fields = new EnumMap<>(FieldName.class);
    private final Note note = new Note();
    private final Note owner = new Note("owner");
    private final Note changes = new Note("change");
    private Optional<LocalDate> reviewBy = Optional.empty();
    private Outcome outcome;
    private Optional<String> sheet = Optional.empty();
    private Rule.Ports ports = Rule.Ports.ANY;
    private Rule.Logging logging = Rule.Logging.LOGGED;

    private boolean take(FileLine line, String item) {
      if (line.take("then")) {
        only(line, item, "then");
        line.need(":", "after then");
        outcome = RulebaseReader.outcome(line);
      } else if (line.take("sheet")) {
        only(line, item, "sheet");
        line.need(":", "after sheet");
        sheet = Optional.of(line.rest());
      } else if (line.take("usual ports")) {
        only(line, item, "usual ports");
        ports = Rule.Ports.USUAL;
      } else if (line.take("not logged") || line.take("quiet")) {
        // "quiet" is what older files say.
        only(line, item, "not logged");
        logging = Rule.Logging.NOT_LOGGED;
      } else if (line.take("review by")) {
        only(line, item, "review by");
        int start = line.position();
        reviewBy = Optional.of(day(line, start, line.rest()));
      } else {
        return note.take(line, item)
            || owner.take(line, item)
            || changes.take(line, item)
            || field(line, item, fields);
      }
      return true;
    }
  }
}
