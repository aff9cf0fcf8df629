package ironsieve.server.edit;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.files.Contents;
import ironsieve.files.Renaming;
import ironsieve.files.WorkspaceContents;
import ironsieve.files.WorkspaceKind;
import ironsieve.model.Environment;
import ironsieve.model.ValueKind;
import ironsieve.server.change.Change;
import ironsieve.server.change.ConflictException;
import ironsieve.server.change.Records;
import ironsieve.server.store.JournalEntry;
import ironsieve.server.store.RulebaseStore;
import ironsieve.server.store.Sql;
import ironsieve.server.store.TapeContents;
import ironsieve.server.store.TapeStore;
import ironsieve.text.ProbeText;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Stream;

/**
 * What a new name of something in the workspace changes outside it: rules, promises and the like of
 * every rulebase, archived ones too, and recorded traffic. It stands in the workspace's journal
 * with the change itself, so that it is taken back with it.
 */
@ApplicationScoped
public class RenameCascade {

  @Inject Sql sql;
  @Inject RulebaseStore rulebases;
  @Inject Records records;
  @Inject TapeStore tapes;
  @Inject TapeContents contents;
  @Inject ObjectMapper json;
  @Inject Clock clock;

  /**
   * What rulebases, archived ones too, say otherwise once something has another name. To be asked
   * with the workspace locked, so that nobody can begin to use the old name meanwhile.
   *
   * @param before the surroundings in whose words promises stand
   */
  List<Change> of(Sql.Transaction tx, List<Renaming.Renamed> renamed, Environment before)
      throws SQLException {
    List<Change> changes = new ArrayList<>();
    if (renamed.isEmpty()) {
      return changes;
    }
    Renaming renaming = new Renaming(renamed, new ProbeText(before));
    for (RulebaseStore.Head head : rulebases.heads(tx)) {
      Contents contents = rulebases.contents(tx, head.id());
      records
          .between(contents, renaming.of(contents))
          .forEach(change -> changes.add(change.of(head.id())));
    }
    renamed.forEach(one -> changes.add(OfTraffic.change(one, json)));
    return changes;
  }

  /**
   * What was renamed by a change, and what of it everything that uses the new name is to follow
   * when it is taken back: where the new name then stands for nothing any more.
   *
   * @param changes as the workspace's journal has them, reversed where they are taken back
   * @param after what there will be
   */
  static List<Renaming.Renamed> toFollow(List<Change> changes, WorkspaceContents after) {
    return changes.stream()
        .filter(OfTraffic::is)
        .map(OfTraffic::renamed)
        .filter(one -> after.record(one.kind(), one.id()).isEmpty())
        .toList();
  }

  /** Whether all that was renamed by a change is followed by whatever uses it. */
  static boolean isFollowed(List<Change> changes, List<Renaming.Renamed> followed) {
    return changes.stream().filter(OfTraffic::is).count() == followed.size();
  }

  /**
   * A new name as the workspace's journal has it, for the traffic that was recorded under the old
   * one: tapes have no journal of their own.
   */
  private static final class OfTraffic {
    private static final String NAME = "name";
    private static final String ID = "id";

    private OfTraffic() {}

    static Change change(Renaming.Renamed one, ObjectMapper json) {
      String word = one.kind().word();
      return new Change(
          Change.NAME,
          one.id(),
          json.createObjectNode().put(Change.OF, word).put(NAME, one.id()),
          json.createObjectNode()
              .put(Change.OF, word)
              .put(NAME, one.name())
              .put(
                  ID,
                  one.kind() == WorkspaceKind.SET ? prefix(one.id()) + one.name() : one.name()));
    }

    static boolean is(Change change) {
      return change.rulebase() == null && change.kind().equals(Change.NAME);
    }

    /** The new name; of a change that is taken back, the one from before. */
    static Renaming.Renamed renamed(Change change) {
      WorkspaceKind kind =
          WorkspaceKind.ofWord(change.after().get(Change.OF).asText()).orElseThrow();
      String before = id(change.before());
      String after = id(change.after());
      if (kind != WorkspaceKind.SET) {
        return new Renaming.Renamed(kind, before, after);
      }
      // Older entries have the kind of a set on the side only where it stood before.
      return new Renaming.Renamed(
          kind,
          prefix(before).isEmpty() ? prefix(after) + before : before,
          after.substring(prefix(after).length()));
    }

    private static String id(JsonNode side) {
      return side.get(side.has(ID) ? ID : NAME).asText();
    }

    /** The kind of a shared set before its name, such as {@code network:}. */
    private static String prefix(String id) {
      return Stream.of(ValueKind.values())
          .map(kind -> kind.word() + ":")
          .filter(id::startsWith)
          .findFirst()
          .orElse("");
    }
  }

  /** Whether a change is of something else than a record of the workspace. */
  static boolean isElsewhere(Change change) {
    return change.rulebase() != null || OfTraffic.is(change);
  }

  /** The changes of the records of one rulebase among some. */
  static List<Change> ofRulebase(List<Change> changes, String id) {
    return changes.stream().filter(change -> id.equals(change.rulebase())).toList();
  }

  /**
   * Makes a revision of each rulebase that changes with the workspace, and gives traffic its new
   * names.
   *
   * @param before what tapes were read against
   */
  void write(
      Sql.Transaction tx,
      List<Change> changes,
      Environment before,
      Author author,
      String what,
      String action)
      throws SQLException {
    writeRulebases(tx, changes, author, what, action);
    writeTapes(tx, changes, before);
  }

  private void writeTapes(Sql.Transaction tx, List<Change> changes, Environment before)
      throws SQLException {
    Renaming renaming =
        new Renaming(
            changes.stream().filter(OfTraffic::is).map(OfTraffic::renamed).toList(),
            new ProbeText(before));
    if (!renaming.isOfTraffic()) {
      return;
    }
    for (RulebaseStore.Head head : rulebases.heads(tx)) {
      for (TapeStore.Kept tape : tapes.of(tx, head.id())) {
        Optional<TapeStore.Kept> renamed = renamed(tx, tape, renaming);
        if (renamed.isPresent()) {
          tapes.change(tx, head.id(), tape, renamed.get());
        }
      }
    }
  }

  private Optional<TapeStore.Kept> renamed(
      Sql.Transaction tx, TapeStore.Kept tape, Renaming renaming) throws SQLException {
    String csv = tape.csv();
    Long words = tape.words();
    if (csv != null) {
      csv = renaming.tape(csv);
    } else {
      words =
          contents
              .rename(tx, new TapeContents.Numbers(tape.content(), words), renaming::of)
              .words();
    }
    return Objects.equals(csv, tape.csv()) && Objects.equals(words, tape.words())
        ? Optional.empty()
        : Optional.of(tape.with(csv, tape.content(), words));
  }

  /** In a rulebase's own journal it stands as done everywhere: nobody takes it back there alone. */
  private void writeRulebases(
      Sql.Transaction tx, List<Change> changes, Author author, String what, String action)
      throws SQLException {
    Map<String, List<Change>> byRulebase = new TreeMap<>();
    changes.stream()
        .filter(change -> change.rulebase() != null)
        .forEach(
            change ->
                byRulebase.computeIfAbsent(change.rulebase(), id -> new ArrayList<>()).add(change));
    for (Map.Entry<String, List<Change>> entry : byRulebase.entrySet()) {
      String id = entry.getKey();
      long revision = rulebases.lockWhatever(tx, id);
      Contents now = rulebases.contents(tx, id);
      Contents after;
      try {
        after = records.with(now, entry.getValue());
      } catch (ConflictException e) {
        throw new NothingToTakeBackException(
            "cannot "
                + (action.equals("edit") ? "do" : action)
                + " this: "
                + e.getMessage()
                + " of rulebase "
                + id
                + " has been changed since");
      }
      rulebases.write(
          tx,
          id,
          new JournalEntry(
              revision + 1,
              clock.instant(),
              author.name() + " (everywhere)",
              author.reason(),
              what,
              "edit",
              null,
              records.between(now, after)));
    }
  }
}
