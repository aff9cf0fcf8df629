package ironsieve.server.demo;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import ironsieve.files.Contents;
import ironsieve.files.RecordKind;
import ironsieve.server.change.Change;
import ironsieve.server.store.JournalEntry;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * How a rulebase of the demo became what it is. A file names each edit with what was before it;
 * what came of the edit is found by going back from the rulebase as it is, so that both always
 * agree.
 */
final class DemoHistory {

  /**
   * An edit of one rule.
   *
   * @param before what its document said otherwise, null for members it did not have; nothing for
   *     an edit that added the rule
   * @param like for an edit that removed the rule: another one that its document was like, but for
   *     {@code before}
   */
  record Edit(
      Instant at,
      String who,
      String reason,
      String what,
      String rule,
      JsonNode before,
      String like) {}

  private final ObjectMapper json;

  DemoHistory(ObjectMapper json) {
    this.json = json;
  }

  /** The journal of a rulebase as a file of an archive has it, from its edits, oldest first. */
  String journal(String edits, Contents contents) {
    try {
      return json.writeValueAsString(
          journal(Arrays.asList(json.readValue(edits, Edit[].class)), contents));
    } catch (JsonProcessingException e) {
      throw new IllegalStateException("the demo's history is no list of edits", e);
    }
  }

  private List<JournalEntry> journal(List<Edit> edits, Contents contents) {
    Map<String, JsonNode> rules = new LinkedHashMap<>();
    contents
        .records()
        .get(RecordKind.RULE)
        .forEach((id, doc) -> rules.put(id, json.valueToTree(doc)));
    List<JournalEntry> entries = new ArrayList<>();
    for (int e = edits.size() - 1; e >= 0; e--) {
      Edit edit = edits.get(e);
      JsonNode after = rules.get(edit.rule());
      JsonNode before = before(edit, rules);
      if (before == null) {
        rules.remove(edit.rule());
      } else {
        rules.put(edit.rule(), before);
      }
      Change change = new Change(RecordKind.RULE.word(), edit.rule(), before, after);
      entries.add(
          new JournalEntry(
              e + 1L,
              edit.at(),
              edit.who(),
              edit.reason(),
              edit.what(),
              "edit",
              null,
              List.of(change)));
    }
    Collections.reverse(entries);
    return entries;
  }

  private static JsonNode before(Edit edit, Map<String, JsonNode> rules) {
    if (edit.before() == null || edit.before().isNull()) {
      return null;
    }
    ObjectNode before = rules.get(edit.like() == null ? edit.rule() : edit.like()).deepCopy();
    before.put("id", edit.rule());
    merge(before, edit.before());
    return before;
  }

  private static void merge(ObjectNode doc, JsonNode other) {
    for (Map.Entry<String, JsonNode> member : other.properties()) {
      JsonNode value = member.getValue();
      if (value.isNull()) {
        doc.remove(member.getKey());
      } else if (value.isObject() && doc.path(member.getKey()).isObject()) {
        merge((ObjectNode) doc.get(member.getKey()), value);
      } else {
        doc.set(member.getKey(), value);
      }
    }
  }
}
