package ironsieve.server.store;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import ironsieve.files.CompanyFolder;
import ironsieve.files.FaultException;
import ironsieve.server.change.Change;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;

/** Who changed what, when and why, as files of an archive: one of the workspace, one a rulebase. */
@ApplicationScoped
class HistoryFiles {

  private static final Set<String> ACTIONS = Set.of("edit", "undo", "redo");
  private static final int MOST_TEXT = 10_000;

  /** Numbers go on from there for longer than anybody edits, and a browser can still count them. */
  private static final long LARGEST = 1L << 48;

  @Inject Sql sql;
  @Inject WorkspaceStore workspace;
  @Inject RulebaseStore rulebases;
  @Inject ObjectMapper json;

  private static String path(String rulebase) {
    return "history/rulebases/" + rulebase + ".json";
  }

  private static final String OF_WORKSPACE = "history/workspace.json";

  /** The files of some rulebases and of the workspace, by their paths. */
  Map<String, String> written(Sql.Transaction tx, List<String> ids) throws SQLException {
    Map<String, String> files = new TreeMap<>();
    files.put(OF_WORKSPACE, text(workspace.all(tx)));
    for (String id : ids) {
      files.put(path(id), text(rulebases.journalBetween(tx, id, 0, Long.MAX_VALUE)));
    }
    return files;
  }

  private String text(Object entries) {
    try {
      return json.writer().with(SerializationFeature.INDENT_OUTPUT).writeValueAsString(entries)
          + "\n";
    } catch (JsonProcessingException e) {
      throw new IllegalStateException("entries always become JSON", e);
    }
  }

  /**
   * Enters the history of a folder that has one.
   *
   * @throws FaultException naming the file and the entry that cannot be
   */
  void read(Sql.Transaction tx, CompanyFolder folder, List<String> ids) throws SQLException {
    Optional<String> ofWorkspace = folder.optional(OF_WORKSPACE);
    if (ofWorkspace.isEmpty()) {
      return;
    }
    long version = 0;
    long number = 0;
    for (WorkspaceEntry entry : sql.list(OF_WORKSPACE, ofWorkspace.get(), WorkspaceEntry[].class)) {
      demandSound(OF_WORKSPACE, entry, entry.who(), entry.number() > number, entry.changes());
      number = entry.number();
      version = Math.max(version, entry.version());
      tx.change(
          "insert into workspace_journal (number, version, at, who, reason, what, action, target,"
              + " changes) overriding system value values (?, ?, ?, ?, ?, ?, ?, ?, ?::jsonb)",
          entry.number(),
          entry.version(),
          Timestamp.from(entry.at()),
          entry.who(),
          orEmpty(entry.reason()),
          entry.what(),
          entry.action(),
          entry.target(),
          sql.json(entry.changes()));
    }
    tx.row(
        "select setval(pg_get_serial_sequence('workspace_journal', 'number'), ?)",
        row -> row.getLong(1),
        Math.max(1, number));
    tx.change("update workspace set version = greatest(version, ?)", version);
    for (String id : ids) {
      Optional<String> text = folder.optional(path(id));
      if (text.isPresent()) {
        enter(tx, id, sql.list(path(id), text.get(), JournalEntry[].class));
      }
    }
  }

  private void enter(Sql.Transaction tx, String id, List<JournalEntry> entries)
      throws SQLException {
    long revision = 0;
    for (JournalEntry entry : entries) {
      demandSound(path(id), entry, entry.who(), entry.revision() > revision, entry.changes());
      if (entry.action().equals("edit") != (entry.target() == null)) {
        throw new FaultException(path(id), "target", "an undo or redo, and no edit, has a target");
      }
      revision = entry.revision();
      tx.change(
          "insert into journal (rulebase, revision, at, who, reason, what, action, target, changes)"
              + " values (?, ?, ?, ?, ?, ?, ?, ?, ?::jsonb)",
          id,
          entry.revision(),
          Timestamp.from(entry.at()),
          entry.who(),
          orEmpty(entry.reason()),
          entry.what(),
          entry.action(),
          entry.target(),
          sql.json(entry.changes()));
    }
    tx.change("update rulebase set revision = ? where id = ?", revision, id);
  }

  private static void demandSound(
      String path, Done entry, String who, boolean isNext, List<Change> changes) {
    boolean isWhole =
        (entry instanceof WorkspaceEntry of
                ? of.number() <= LARGEST && of.version() >= 0 && of.version() <= LARGEST
                : ((JournalEntry) entry).revision() <= LARGEST)
            && changes != null
            && changes.stream()
                .allMatch(one -> one != null && one.kind() != null && one.id() != null)
            && entry.at() != null
            && isText(who)
            && isText(entry.what())
            && isText(entry.action())
            && ACTIONS.contains(entry.action());
    if (!isNext || !isWhole) {
      throw new FaultException(
          path,
          "",
          "an entry has a number above the one before and up to "
              + LARGEST
              + ", a moment, who, what, what changed, and is an"
              + " edit, undo or redo");
    }
  }

  private static boolean isText(String text) {
    return text != null && text.length() <= MOST_TEXT;
  }

  private static String orEmpty(String text) {
    return text == null ? "" : text;
  }
}
