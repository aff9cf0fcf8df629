package ironsieve.server.change;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import ironsieve.files.Contents;
import ironsieve.files.RecordKind;
import ironsieve.files.WorkspaceContents;
import ironsieve.files.WorkspaceKind;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/**
 * Compares records and changes them, the same way for rulebases and for the workspace. A change is
 * merged three ways, member by member: what it leaves alone stays as somebody else may have made it
 * since, and what it changes must be as it was before. Safe for many threads.
 */
@ApplicationScoped
public class Records {

  /** The word for what a rulebase says of itself, such as its default verdict. */
  public static final String TITLE = "title";

  private final ObjectMapper json;

  /** Records in the form that this mapper gives them. */
  @Inject
  public Records(ObjectMapper json) {
    this.json = json;
  }

  /** The changes that make one rulebase of another. */
  public List<Change> between(Contents before, Contents after) {
    List<Change> changes = new ArrayList<>();
    for (RecordKind kind : RecordKind.values()) {
      compare(changes, kind.word(), before.records().get(kind), after.records().get(kind));
    }
    if (!before.title().equals(after.title())) {
      changes.add(new Change(TITLE, TITLE, tree(before.title()), tree(after.title())));
    }
    return changes;
  }

  /** The changes that make one workspace of another, by kind and id. */
  public List<Change> between(WorkspaceContents before, WorkspaceContents after) {
    List<Change> changes = new ArrayList<>();
    for (WorkspaceKind kind : WorkspaceKind.values()) {
      compare(changes, kind.word(), before.records(kind), after.records(kind));
    }
    return changes;
  }

  private void compare(
      List<Change> changes, String kind, Map<String, ?> before, Map<String, ?> after) {
    before.forEach(
        (id, doc) -> {
          Object now = after.get(id);
          // Most documents are the very same; the others are compared by what they say.
          if (doc != now && !doc.equals(now)) {
            changes.add(new Change(kind, id, tree(doc), tree(now)));
          }
        });
    after.forEach(
        (id, doc) -> {
          if (!before.containsKey(id)) {
            changes.add(new Change(kind, id, null, tree(doc)));
          }
        });
  }

  /**
   * A rulebase with changes made in it, which stays as it is.
   *
   * @throws ConflictException naming the first record that is no longer as it was
   */
  public Contents with(Contents contents, List<Change> changes) {
    Contents next = contents.copy();
    for (Change change : changes) {
      Optional<RecordKind> kind = RecordKind.ofWord(change.kind());
      if (kind.isEmpty()) {
        if (!next.title().equals(title(change.before(), next.title()))) {
          throw new ConflictException(change);
        }
        next = next.with(title(change.after(), next.title()));
        continue;
      }
      Map<String, ?> records = next.records().get(kind.get());
      Object after = apply(change, records.get(change.id()), kind.get().type());
      if (after == null) {
        records.remove(change.id());
      } else {
        next.put(kind.get(), after);
      }
    }
    return next;
  }

  /**
   * A workspace with changes made in it, which stays as it is; changes of anything else than its
   * records are passed over.
   *
   * @throws ConflictException naming the first record that is no longer as it was
   */
  public WorkspaceContents with(WorkspaceContents contents, List<Change> changes) {
    WorkspaceContents next = contents.copy();
    for (Change change : changes) {
      Optional<WorkspaceKind> kind =
          change.rulebase() == null ? WorkspaceKind.ofWord(change.kind()) : Optional.empty();
      if (kind.isEmpty()) {
        continue;
      }
      Object current = next.record(kind.get(), change.id()).orElse(null);
      Object after = apply(change, current, kind.get().type());
      if (after == null) {
        next.remove(kind.get(), change.id());
      } else {
        next.put(kind.get(), after);
      }
    }
    return next;
  }

  /** The rulebase itself as a journal has it; older entries have its default verdict only. */
  private Contents.Title title(JsonNode doc, Contents.Title now) {
    return doc.isTextual()
        ? new Contents.Title(now.id(), now.name(), doc.asText(), now.capacity())
        : json.convertValue(doc, Contents.Title.class);
  }

  /** What a record becomes; nothing if it goes. */
  private Object apply(Change change, Object current, Class<?> type) {
    Object before = typed(change.before(), type);
    Object after = typed(change.after(), type);
    // The database may have put the keys of a journal's JSON in another order.
    if (Objects.equals(current, before)) {
      return after;
    }
    if (current == null || before == null || after == null) {
      throw new ConflictException(change);
    }
    return json.convertValue(merged(change, tree(before), tree(after), tree(current)), type);
  }

  private static JsonNode merged(Change change, JsonNode before, JsonNode after, JsonNode current) {
    ObjectNode merged = current.deepCopy();
    Set<String> names = new TreeSet<>();
    List.of(before, after).forEach(doc -> doc.fieldNames().forEachRemaining(names::add));
    for (String name : names) {
      JsonNode was = before.path(name);
      JsonNode becomes = after.path(name);
      JsonNode is = current.path(name);
      if (was.equals(becomes)) {
        continue;
      }
      if (is.equals(was)) {
        put(merged, name, becomes);
      } else if (was.isObject() && becomes.isObject() && is.isObject()) {
        merged.set(name, merged(change, was, becomes, is));
      } else {
        throw new ConflictException(change);
      }
    }
    return merged;
  }

  private static void put(ObjectNode doc, String name, JsonNode value) {
    if (value.isMissingNode()) {
      doc.remove(name);
    } else {
      doc.set(name, value);
    }
  }

  private JsonNode tree(Object doc) {
    return doc == null ? null : json.valueToTree(doc);
  }

  private Object typed(JsonNode doc, Class<?> type) {
    return doc == null || doc.isNull() ? null : json.convertValue(doc, type);
  }
}
