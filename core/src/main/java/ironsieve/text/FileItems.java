package ironsieve.text;

import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Outcome;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
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
 * The lines of a rulebase's text as items with their members, and the comments that stand before
 * them. What begins at the margin is an item, what is indented by two spaces belongs to it.
 */
final class FileItems {

  static final String NOTE = "note";

  private final List<FileLine> lines = new ArrayList<>();
  private final Map<String, List<String>> comments = new HashMap<>();
  private final List<String> pending = new ArrayList<>();
  private final Set<String> taken = new HashSet<>();
  private final Map<String, Integer> said = new HashMap<>();
  private int next;

  /** How a field is called in text: {@code from zones}. */
  private static final Map<FieldName, String> FIELD_WORDS = new EnumMap<>(FieldName.class);

  static {
    for (FieldName name : FieldName.values()) {
      FIELD_WORDS.put(name, name.key().replace('.', ' '));
    }
  }

  FileItems(String text) {
    String[] raw = SourceText.checked(text).split("\r?\n", -1);
    for (int i = 0; i < raw.length; i++) {
      if (raw[i].indexOf('\t') >= 0) {
        throw new FileTextException(
            i + 1, raw[i].indexOf('\t') + 1, "expected spaces; a tab has no fixed width");
      }
      lines.add(new FileLine(raw[i], i + 1));
    }
  }

  /** The comments met so far, by the key of what they stand before. */
  Map<String, List<String>> comments() {
    return comments;
  }

  /** Whether there was no item. */
  boolean isEmpty() {
    return taken.isEmpty();
  }

  /** The next line that says something, if it is indented by so much; keeps comments before it. */
  Optional<FileLine> take(int indent) {
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

  /** Puts the comments met since the last line that said something to a key. */
  void comment(String key) {
    if (!pending.isEmpty()) {
      comments.computeIfAbsent(key, k -> new ArrayList<>()).addAll(pending);
      pending.clear();
    }
  }

  /** The key of an item's comments; an item is there once. */
  String begin(FileLine line, String key) {
    if (!taken.add(key)) {
      throw line.wrongAt(0, "there already is a " + key);
    }
    comment(key);
    return key;
  }

  /** What takes a line of an item; false if it is nothing it knows. */
  interface Member {
    boolean take(FileLine line, String key);
  }

  /** The indented lines of an item. */
  void members(String item, String expected, Member member) {
    Optional<FileLine> line;
    while ((line = take(2)).isPresent()) {
      if (!member.take(line.get(), item)) {
        throw line.get().wrong("expected " + expected);
      }
      line.get().end();
    }
  }

  /** Puts the comments before a member of an item to it. */
  void member(String item, String what) {
    comment(item + "|" + what);
  }

  /** A member that an item has once; a second one would silently take the place of the first. */
  void only(FileLine line, String item, String what) {
    Integer first = said.putIfAbsent(item + "|" + what, line.number());
    if (first != null) {
      throw line.wrongAt(
          line.indent(), what + " stands here twice; it already stands in line " + first);
    }
    member(item, what);
  }

  /** A note may go on over several lines, each with the word before it. */
  final class Note {
    private final StringBuilder text = new StringBuilder();
    private final String word;

    Note() {
      this(NOTE);
    }

    Note(String word) {
      this.word = word;
    }

    boolean take(FileLine line, String item) {
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

  /** The values of a list to the end of the line. */
  static List<Value> values(FileLine line, ValueKind kind) {
    List<Value> values = new ArrayList<>();
    for (FileLine.Item item : line.items(kind.one())) {
      values.add(make(line, item.position(), () -> ValueText.parse(kind, item.text())));
    }
    return values;
  }

  /** Makes something, and says where in the file it went wrong. */
  static <T> T make(FileLine line, int position, Supplier<T> maker) {
    try {
      return maker.get();
    } catch (TextException e) {
      throw line.wrongAt(position + e.position(), e.getMessage());
    } catch (IllegalArgumentException e) {
      throw line.wrongAt(position, e.getMessage());
    }
  }

  /** What happens, to the end of the line. */
  static Outcome outcome(FileLine line) {
    int start = line.position();
    return make(line, start, () -> OutcomeText.parse(line.rest()));
  }

  /** A number; otherwise it is said what was expected. */
  static long number(FileLine line, String what) {
    int start = line.position();
    String word = line.word(what);
    if (!word.matches("\\d{1,9}")) {
      throw line.wrongAt(start, "expected " + what + ", not \"" + word + "\"");
    }
    return Long.parseLong(word);
  }

  /** Takes a field of a match; false if the line begins with none. */
  boolean field(FileLine line, String item, Map<FieldName, Field> fields) {
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
}
