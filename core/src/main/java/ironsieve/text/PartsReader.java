package ironsieve.text;

import ironsieve.model.DecryptionRule;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Lane;
import ironsieve.model.NamedSet;
import ironsieve.model.Notice;
import ironsieve.model.Outcome;
import ironsieve.model.Parts;
import ironsieve.model.Rule;
import ironsieve.model.UsageSheet;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.model.Verdict;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;

/** Reads what the rules of a rulebase share: sets, notices, lanes, sheets and decryption rules. */
final class PartsReader {

  private static final String NOTE = FileItems.NOTE;

  private final FileItems items;
  private final List<NamedSet> sets = new ArrayList<>();
  private final List<UsageSheet> sheets = new ArrayList<>();
  private final List<Notice> notices = new ArrayList<>();
  private final List<Lane> lanes = new ArrayList<>();
  private final List<DecryptionRule> decryption = new ArrayList<>();

  PartsReader(FileItems items) {
    this.items = items;
  }

  /** What has been read so far, with what the gateway's link carries. */
  Parts parts(Lane.Rates capacity) {
    return new Parts(sets, sheets, notices, lanes, decryption, capacity);
  }

  /** Reads an item if it is one of these; whether it is. */
  boolean item(FileLine line) {
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
    } else {
      return false;
    }
    return true;
  }

  private void set(FileLine line) {
    int start = line.position();
    ValueKind kind =
        FileItems.make(line, start, () -> ValueKind.ofWord(line.word("a kind of set")));
    String own = line.name("the set's name");
    line.end();
    String key = items.begin(line, "set " + kind.word() + " " + own);
    FileItems.Note note = items.new Note();
    List<Value> values = new ArrayList<>();
    items.members(
        key,
        "note, or: values:",
        (at, item) -> {
          if (at.take("values")) {
            items.member(item, "values");
            at.need(":", "after values");
            values.addAll(FileItems.values(at, kind));
            return true;
          }
          return note.take(at, item);
        });
    sets.add(new NamedSet(own, kind, values, note.toString()));
  }

  private void notice(FileLine line) {
    int start = line.position();
    Verdict verdict =
        FileItems.make(
            line,
            start,
            () ->
                Verdict.valueOf(
                    line.word("ask, stop or enrol").toUpperCase(java.util.Locale.ROOT)));
    String own = line.name("the notice's name");
    line.end();
    String key = items.begin(line, "notice " + own);
    StringBuilder text = new StringBuilder();
    items.members(
        key,
        "text",
        (at, item) -> {
          if (!at.take("text")) {
            return false;
          }
          items.member(item, "text");
          text.append(text.length() == 0 ? "" : "\n").append(at.rest());
          return true;
        });
    notices.add(FileItems.make(line, start, () -> new Notice(own, verdict, text.toString())));
  }

  private void lane(FileLine line) {
    String own = line.name("the lane's name");
    Lane.Scope scope = scope(line);
    line.end();
    String key = items.begin(line, "lane " + own);
    FileItems.Note note = items.new Note();
    Lane.Rates[] rates = {Lane.Rates.NONE, Lane.Rates.NONE};
    int[] clients = {0};
    items.members(
        key,
        "ceiling, guarantee, clients or note",
        (at, item) -> {
          if (at.take("ceiling")) {
            items.only(at, item, "ceiling");
            rates[0] = rates(at);
          } else if (at.take("guarantee")) {
            items.only(at, item, "guarantee");
            rates[1] = rates(at);
          } else if (at.take("clients")) {
            items.only(at, item, "clients");
            clients[0] = (int) FileItems.number(at, "a number of clients");
          } else {
            return note.take(at, item);
          }
          return true;
        });
    lanes.add(
        FileItems.make(
            line, 0, () -> new Lane(own, scope, rates[0], rates[1], clients[0], note.toString())));
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

  /** Bandwidths up and down. */
  static Lane.Rates rates(FileLine line) {
    long up = rate(line, "a number of kbit/s from the client");
    // "there" and "back" are what older files say.
    if (!line.take("up") && !line.take("there")) {
      throw line.wrong("expected: up");
    }
    long down = rate(line, "a number of kbit/s to the client");
    if (!line.take("down") && !line.take("back")) {
      throw line.wrong("expected: down");
    }
    return FileItems.make(line, 0, () -> new Lane.Rates(up, down));
  }

  /** A number and its unit; without one it is kbit/s. */
  private static long rate(FileLine line, String what) {
    int start = line.position();
    long number = FileItems.number(line, what);
    long unit = line.take("Gbit/s") ? 1_000_000 : line.take("Mbit/s") ? 1_000 : 1;
    line.take("kbit/s");
    if (number > Long.MAX_VALUE / unit) {
      throw line.wrongAt(start, "that is more than can be counted in kbit/s");
    }
    return number * unit;
  }

  private void sheet(FileLine line) {
    String own = line.name("the sheet's name");
    line.end();
    String key = items.begin(line, "sheet " + own);
    FileItems.Note note = items.new Note();
    List<UsageSheet.Line> inside = new ArrayList<>();
    Outcome[] otherwise = {Outcome.of(Verdict.ALLOW)};
    items.members(
        key,
        "note, otherwise: OUTCOME, or: on APPLICATION: OUTCOME",
        (at, item) -> {
          if (at.take("otherwise")) {
            items.only(at, item, "otherwise");
            at.need(":", "after otherwise");
            otherwise[0] = FileItems.outcome(at);
          } else if (at.take("on")) {
            int start = at.position();
            String rest = at.rest();
            int colon = rest.lastIndexOf(": ");
            if (colon < 0) {
              throw at.wrong("expected \": \" and an outcome");
            }
            String about = rest.substring(0, colon);
            items.member(item, "on " + about);
            Value value =
                FileItems.make(at, start, () -> ValueText.parse(ValueKind.APPLICATION, about));
            Outcome outcome =
                FileItems.make(
                    at, start + colon + 2, () -> OutcomeText.parse(rest.substring(colon + 2)));
            inside.add(FileItems.make(at, start, () -> new UsageSheet.Line(value, outcome)));
            FileItems.make(at, start, () -> new UsageSheet(own, inside, otherwise[0], ""));
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
    String key = items.begin(line, "decryption rule " + id);
    FileItems.Note note = items.new Note();
    Map<FieldName, Field> fields = new EnumMap<>(FieldName.class);
    items.members(
        key, "a field or note", (at, item) -> note.take(at, item) || items.field(at, item, fields));
    decryption.add(
        FileItems.make(
            line,
            0,
            () ->
                new DecryptionRule(
                    id, new Rule.Match(fields, Rule.Ports.ANY), decision, note.toString())));
  }
}
