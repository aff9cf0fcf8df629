package ironsieve.server.edit;

import com.fasterxml.jackson.databind.JsonNode;
import ironsieve.files.Contents;
import ironsieve.files.FaultException;
import ironsieve.server.change.Change;
import ironsieve.text.PlainText;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * How much a rulebase may say; documented in {@code docs/formats.md}. Held against what an edit
 * writes, so that what was written before there were limits can still be read.
 */
final class Limits {

  static final int NAME = 200;
  static final int NOTE = 10_000;
  static final int TEXT = 1_000;
  static final int VALUES = 20_000;
  static final int RULES = 100_000;
  static final int RECORDS = 10_000;

  private static final Set<String> NAMES = Set.of("name", "title");
  private static final Set<String> NOTES = Set.of("note", "text", "print");

  private Limits() {}

  /**
   * Does nothing where a rulebase stays within its limits.
   *
   * @throws FaultException naming record, member and limit
   */
  static void demand(List<Change> changes, Contents after) {
    for (Change change : changes) {
      if (change.after() != null && change.after().isObject()) {
        demand(change.kind() + " " + change.id(), "", change.after());
      }
    }
    after
        .records()
        .forEach(
            (kind, records) -> {
              int most = kind.word().equals("rule") ? RULES : RECORDS;
              if (records.size() > most) {
                throw new FaultException(
                    "rulebase",
                    kind.word(),
                    "a rulebase has at most "
                        + most
                        + " records of the kind "
                        + kind.word()
                        + ", not "
                        + records.size());
              }
            });
  }

  /** How many texts a record holds in lists: a measure of the work it takes to read it. */
  static long values(JsonNode doc) {
    if (doc == null) {
      return 0;
    }
    long count = doc.isArray() ? doc.size() : 0;
    for (JsonNode inner : doc) {
      count += inner.isContainerNode() ? values(inner) : 0;
    }
    return count;
  }

  private static void demand(String place, String field, JsonNode value) {
    if (value.isTextual()) {
      text(place, field, value.asText());
    } else if (value.isArray() && value.size() > VALUES) {
      throw new FaultException(
          place,
          field,
          "a list has at most " + VALUES + " values, not " + value.size() + "; use named sets");
    }
    if (value.isArray()) {
      value.forEach(item -> demand(place, field, item));
    }
    for (Map.Entry<String, JsonNode> member : value.properties()) {
      demand(place, member.getKey(), member.getValue());
    }
  }

  private static void text(String place, String field, String text) {
    if (NAMES.contains(field) && !text.isEmpty()) {
      FaultException.demandName(place, field, text, NAME);
    }
    int most = NOTES.contains(field) ? NOTE : TEXT;
    if (text.length() > most) {
      throw new FaultException(
          place, field, "this has at most " + most + " characters, not " + text.length());
    }
    PlainText.forbidden(text)
        .ifPresent(
            forbidden -> {
              throw new FaultException(place, field, forbidden.words());
            });
  }
}
