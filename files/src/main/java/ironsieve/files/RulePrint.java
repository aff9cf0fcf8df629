package ironsieve.files;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import com.fasterxml.jackson.databind.json.JsonMapper;
import ironsieve.files.Documents.AcceptedDoc;
import ironsieve.files.Documents.FieldDoc;
import ironsieve.files.Documents.RuleDoc;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;

/**
 * What a rule says, without what it is called or why it is there, as one line: an accepted finding
 * keeps it, to know whether its rule still says the same. Version 2 is JSON of our own making, with
 * all keys in one order. Version 1 was the way Java prints records and is recognized where it was
 * stored.
 */
public final class RulePrint {

  private static final String VERSION = "2 ";
  private static final ObjectMapper JSON =
      JsonMapper.builder().configure(SerializationFeature.ORDER_MAP_ENTRIES_BY_KEYS, true).build();

  private RulePrint() {}

  /** The line of a rule, in the newest version. */
  public static String of(RuleDoc rule) {
    Map<String, Object> said = new TreeMap<>();
    said.put("state", or(rule.state(), "on"));
    said.put("ports", or(rule.ports(), "any"));
    said.put("verdict", rule.verdict());
    said.put("sheet", or(rule.sheet(), ""));
    said.put("logging", or(rule.logging(), "not logged"));
    Map<String, Object> fields = new TreeMap<>();
    rule.fields()
        .forEach((key, field) -> fields.put(key, Map.of(or(field.sense(), "is"), field.values())));
    said.put("fields", fields);
    try {
      return VERSION + JSON.writeValueAsString(said);
    } catch (JsonProcessingException e) {
      throw new IllegalStateException("texts and lists of texts are written", e);
    }
  }

  /** Whether an acceptance was given for what a rule says now. */
  public static boolean isOf(AcceptedDoc accepted, RuleDoc rule) {
    String print = accepted.print();
    return print.startsWith(VERSION) ? print.equals(of(rule)) : print.equals(versionOne(rule));
  }

  /** The same acceptance with the line of what its rule says in other words. */
  static AcceptedDoc moved(AcceptedDoc accepted, RuleDoc before, RuleDoc after) {
    return isOf(accepted, before)
        ? new AcceptedDoc(
            accepted.rule(), accepted.kind(), of(after), accepted.reason(), accepted.who())
        : accepted;
  }

  /** As {@code toString} of Java's records once wrote it; never changes. */
  private static String versionOne(RuleDoc rule) {
    String fields =
        new TreeMap<>(rule.fields())
            .entrySet().stream()
                .map(entry -> entry.getKey() + "=" + versionOne(entry.getValue()))
                .collect(Collectors.joining(", ", "{", "}"));
    return String.join(
        " \u00b7 ",
        List.of(
            String.valueOf(rule.state()),
            fields,
            String.valueOf(rule.ports()),
            String.valueOf(rule.verdict()),
            String.valueOf(rule.sheet()),
            String.valueOf(rule.logging())));
  }

  private static String versionOne(FieldDoc field) {
    return "FieldDoc[sense=" + field.sense() + ", values=" + field.values() + "]";
  }

  private static String or(String text, String otherwise) {
    return text == null ? otherwise : text;
  }
}
