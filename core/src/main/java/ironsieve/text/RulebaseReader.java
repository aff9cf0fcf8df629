package ironsieve.text;

import ironsieve.model.Chapter;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Lane;
import ironsieve.model.Outcome;
import ironsieve.model.Rule;
import ironsieve.model.RuleMetadata;
import ironsieve.model.Rulebase;
import ironsieve.model.Verdict;
import java.time.LocalDate;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Reads a rulebase's text; the grammar is in {@code docs/formats.md}. Line by line, by recursive
 * descent: what begins at the margin is an item, what is indented belongs to the item above it.
 * Comments are kept with the line they stand before; a line is known by its item's kind and name
 * and, inside an item, by its own first words.
 */
public final class RulebaseReader {

  private final FileItems items;
  private final PartsReader parts;
  private final List<Chapter> chapters = new ArrayList<>();
  private String name = "";
  private Verdict defaultVerdict = Verdict.DENY;
  private Lane.Rates capacity = Lane.Rates.NONE;

  private RulebaseReader(String text) {
    items = new FileItems(text);
    parts = new PartsReader(items);
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
    while ((line = reader.items.take(0)).isPresent()) {
      if (!line.get().take("rule")) {
        throw line.get().wrong("expected: rule ID \"NAME\"");
      }
      reader.rule(line.get());
    }
    if (reader.items.isEmpty()) {
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
    return new RulebaseFile(
        new Rulebase(name, chapters, parts.parts(capacity), defaultVerdict), items.comments());
  }

  private void all() {
    Optional<FileLine> first = items.take(0);
    if (first.isEmpty() || !first.get().take("rulebase")) {
      throw first
          .map(line -> line.wrong("expected: rulebase \"NAME\""))
          .orElseGet(() -> new FileTextException(1, 1, "expected: rulebase \"NAME\""));
    }
    name = first.get().name("the rulebase's name");
    first.get().end();
    items.comment("rulebase");
    header();
    Optional<FileLine> line;
    while ((line = items.take(0)).isPresent()) {
      item(line.get());
    }
    items.comment("");
  }

  private void header() {
    Optional<FileLine> line;
    while ((line = items.take(2)).isPresent()) {
      FileLine at = line.get();
      // "last line" is what older files say.
      if (at.take("default verdict") || at.take("last line")) {
        items.only(at, "rulebase", "default verdict");
        int start = at.position();
        Outcome outcome = FileItems.outcome(at);
        if (outcome.verdict().shows() || outcome.lane().isPresent()) {
          throw at.wrongAt(start, "expected allow, deny or reject");
        }
        defaultVerdict = outcome.verdict();
      } else if (at.take("capacity")) {
        items.only(at, "rulebase", "capacity");
        capacity = PartsReader.rates(at);
      } else {
        throw at.wrong("expected: default verdict, or: capacity");
      }
    }
  }

  private void item(FileLine line) {
    if (parts.item(line)) {
      return;
    }
    if (line.take("chapter")) {
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

  private void chapter(FileLine line) {
    String id = line.word("an identifier without spaces");
    String title = line.name("the chapter's title");
    line.end();
    String key = items.begin(line, "chapter " + id);
    FileItems.Note note = items.new Note();
    items.members(key, FileItems.NOTE, note::take);
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
    String key = items.begin(line, "rule " + id);
    RuleLines body = new RuleLines();
    items.members(
        key,
        "then:, sheet:, a field such as from zones:, usual ports, not logged, owner, change, review by, or note",
        body::take);
    if (body.outcome == null) {
      throw line.wrongAt(0, "rule " + id + " does not say what happens; expected: then: OUTCOME");
    }
    Rule made =
        FileItems.make(
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
    private final FileItems.Note note = items.new Note();
    private final FileItems.Note owner = items.new Note("owner");
    private final FileItems.Note changes = items.new Note("change");
    private Optional<LocalDate> reviewBy = Optional.empty();
    private Outcome outcome;
    private Optional<String> sheet = Optional.empty();
    private Rule.Ports ports = Rule.Ports.ANY;
    private Rule.Logging logging = Rule.Logging.LOGGED;

    private boolean take(FileLine line, String item) {
      if (line.take("then")) {
        items.only(line, item, "then");
        line.need(":", "after then");
        outcome = FileItems.outcome(line);
      } else if (line.take("sheet")) {
        items.only(line, item, "sheet");
        line.need(":", "after sheet");
        sheet = Optional.of(line.rest());
      } else if (line.take("usual ports")) {
        items.only(line, item, "usual ports");
        ports = Rule.Ports.USUAL;
      } else if (line.take("not logged") || line.take("quiet")) {
        // "quiet" is what older files say.
        items.only(line, item, "not logged");
        logging = Rule.Logging.NOT_LOGGED;
      } else if (line.take("review by")) {
        items.only(line, item, "review by");
        int start = line.position();
        reviewBy = Optional.of(day(line, start, line.rest()));
      } else {
        return note.take(line, item)
            || owner.take(line, item)
            || changes.take(line, item)
            || items.field(line, item, fields);
      }
      return true;
    }
  }
}
