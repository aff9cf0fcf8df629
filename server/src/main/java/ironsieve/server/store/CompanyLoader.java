package ironsieve.server.store;

import ironsieve.files.Archive;
import ironsieve.files.CompanyFolder;
import ironsieve.files.CompanyWriter;
import ironsieve.files.Contents;
import ironsieve.files.Documents.ApplicationDoc;
import ironsieve.files.FaultException;
import ironsieve.files.TapeCsv;
import ironsieve.files.WorkspaceContents;
import ironsieve.recorded.TapeColumns;
import ironsieve.server.change.Records;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.io.ByteArrayInputStream;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.concurrent.Semaphore;

/**
 * Puts a whole company into a database in which there is nothing yet, and takes it out again: its
 * workspace, its rulebases with their promises, accepted findings and tapes, all editions of the
 * catalogue, and the history if asked.
 */
@ApplicationScoped
public class CompanyLoader {

  // Any number, so long as every server that starts on one database uses the same.
  private static final long START_LOCK = 7340;

  /** What an archive has no room for. */
  private static final String LEFT_OUT = "tapes/left-out.txt";

  /** One archive at a time: unpacked it may be an eighth of the memory there is. */
  private final Semaphore unpacking = new Semaphore(1);

  /** One at a time is written, so that many who ask do not take all connections. */
  private final Semaphore writing = new Semaphore(1, true);

  @Inject Sql sql;
  @Inject RulebaseStore rulebases;
  @Inject TapeStore tapes;
  @Inject Company company;
  @Inject WorkspaceStore workspace;
  @Inject Records records;
  @Inject HistoryFiles history;
  @Inject WatchStore watchStore;
  @Inject TapeContents contents;

  /** Whether there is a rulebase, or anything it could be read against. */
  public boolean isBegun() {
    return sql.inTransaction(CompanyLoader::isBegun);
  }

  private static boolean isBegun(Sql.Transaction tx) throws SQLException {
    return tx.row(
            "select exists (select from rulebase) or exists (select from workspace_record)",
            row -> row.getBoolean(1))
        .orElseThrow();
  }

  /**
   * Loads a company where nothing is there yet, all of it or nothing.
   *
   * @param who whose doing it is
   * @return whether it was loaded; not where something is there
   * @throws FaultException naming file and line of what cannot be read
   */
  public boolean loadIfEmpty(CompanyFolder folder, String who) {
    return sql.inTransaction(
        tx -> {
          tx.row("select pg_advisory_xact_lock(?)", row -> true, START_LOCK);
          if (isBegun(tx)) {
            return false;
          }
          company.lockForChange(tx);
          load(tx, folder, who);
          company.recordsChanged(tx);
          return true;
        });
  }

  private void load(Sql.Transaction tx, CompanyFolder folder, String who) throws SQLException {
    CompanyFolder.CompanyFile file = folder.company();
    tx.change("delete from application");
    for (int edition : file.editions()) {
      company.keepEdition(tx, edition, folder.applications(edition));
    }
    workspace.write(tx, records.between(WorkspaceContents.empty(), folder.workspace()));
    for (String id : file.rulebases()) {
      rulebases.create(tx, folder.contents(id));
      for (Map.Entry<String, String> tape : folder.tapes(id).entrySet()) {
        String samples = CompanyFolder.samplesPath(id, tape.getKey());
        tapes.keep(
            tx,
            id,
            TapeStore.Kept.ofText(
                tape.getKey(),
                who,
                tape.getValue(),
                folder.optional(samples).map(text -> Samples.ofText(samples, text)).orElse(null)));
      }
      loadKeptDays(tx, folder, id);
      String path = watchesPath(id);
      for (WatchStore.WatchDoc watch : listed(folder, path, WatchStore.WatchDoc[].class)) {
        watch.demandSound(path);
        watchStore.keep(tx, id, who, watch);
      }
    }
    for (String id : file.archived()) {
      tx.change("update rulebase set standing = 'archived' where id = ?", id);
    }
    history.read(tx, folder, file.rulebases());
  }

  private void loadKeptDays(Sql.Transaction tx, CompanyFolder folder, String rulebase)
      throws SQLException {
    String path = keptDaysPath(rulebase);
    for (KeptDays kept : listed(folder, path, KeptDays[].class)) {
      if (kept.days() < 1 || kept.days() > TapeStore.MOST_DAYS) {
        throw new FaultException(
            path,
            "days",
            "of \"" + kept.tape() + "\" are 1 to " + TapeStore.MOST_DAYS + " days kept");
      }
      if (!tapes.keepDays(tx, rulebase, String.valueOf(kept.tape()), kept.days())) {
        throw new FaultException(path, "tape", "there is no tape \"" + kept.tape() + "\"");
      }
    }
  }

  /** The list in a file; an empty one where there is no such file. */
  private <T> List<T> listed(CompanyFolder folder, String path, Class<T[]> type) {
    return folder.optional(path).map(text -> sql.list(path, text, type)).orElse(List.of());
  }

  /** The lines of a tape as text; nothing where they are too many for one. */
  private Optional<String> text(TapeStore.Kept tape) {
    if (tape.csv() != null) {
      return Optional.of(tape.csv());
    }
    TapeColumns columns =
        contents.read(tape.name(), new TapeContents.Numbers(tape.content(), tape.words()));
    return columns.lines() > TapeCsv.MOST_LINES
        ? Optional.empty()
        : Optional.of(TapeCsv.write(columns.tape()));
  }

  /** How many days of a tape are kept, as an archive says it. */
  private record KeptDays(String tape, int days) {}

  private static String keptDaysPath(String rulebase) {
    return "tapes/" + rulebase + ".kept-days.json";
  }

  private static String watchesPath(String rulebase) {
    return "tapes/" + rulebase + ".watches.json";
  }

  /**
   * Loads an archive where nothing is there yet.
   *
   * @throws FaultException if something is there, or the archive cannot be read; then nothing is
   *     changed
   */
  public void restore(InputStream archive, String who) {
    demandEmpty();
    if (!unpacking.tryAcquire()) {
      throw new FaultException(
          "archive", "", "another archive is being restored; wait for it, and try again");
    }
    try {
      restoreAlone(archive, who);
    } finally {
      unpacking.release();
    }
  }

  /** Asked before anything is unpacked, and once more as it is written. */
  private void demandEmpty() {
    if (isBegun()) {
      throw somethingIsHere();
    }
  }

  private static FaultException somethingIsHere() {
    return new FaultException(
        "archive",
        "",
        "something is here already, and an archive is restored where nothing is; nothing was"
            + " changed");
  }

  private void restoreAlone(InputStream archive, String who) {
    SortedMap<String, String> files = Archive.read(archive);
    CompanyFolder folder =
        new CompanyFolder(
            path ->
                Optional.ofNullable(files.get(path))
                    .map(text -> new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8))));
    if (!loadIfEmpty(folder, who)) {
      throw somethingIsHere();
    }
  }

  /**
   * Everything as one archive, as it is at one moment.
   *
   * @param withHistory also who changed what, when and why
   * @throws FaultException if a rulebase cannot be read and so not be written
   */
  public byte[] archive(boolean withHistory) {
    writing.acquireUninterruptibly();
    try {
      return zip(withHistory);
    } finally {
      writing.release();
    }
  }

  private byte[] zip(boolean withHistory) {
    return sql.reading(
        tx -> {
          List<CompanyWriter.Written> all = new ArrayList<>();
          Map<String, String> beside = new LinkedHashMap<>();
          for (RulebaseStore.Head head : rulebases.heads(tx)) {
            Contents rulebase = rulebases.contents(tx, head.id());
            Map<String, String> recorded = new LinkedHashMap<>();
            List<KeptDays> keptDays = new ArrayList<>();
            List<WatchStore.WatchDoc> watches = watchStore.of(tx, head.id());
            if (!watches.isEmpty()) {
              beside.put(watchesPath(head.id()), sql.json(watches));
            }
            for (TapeStore.Kept tape : tapes.of(tx, head.id())) {
              Optional<String> text = text(tape);
              if (text.isEmpty()) {
                beside.merge(
                    LEFT_OUT,
                    "The tape " + tape.name() + " of " + head.id() + " has too many lines.\n",
                    String::concat);
                continue;
              }
              recorded.put(tape.name(), text.get());
              if (tape.keepDays() != null) {
                keptDays.add(new KeptDays(tape.name(), tape.keepDays()));
              }
              if (tape.samples() != null) {
                beside.put(
                    CompanyFolder.samplesPath(head.id(), tape.name()),
                    Samples.text(tape.samples()));
              }
            }
            if (!keptDays.isEmpty()) {
              beside.put(keptDaysPath(head.id()), sql.json(keptDays));
            }
            all.add(
                new CompanyWriter.Written(rulebase, head.standing().equals("archived"), recorded));
          }
          SortedMap<String, String> files = files(tx, all);
          files.putAll(beside);
          if (withHistory) {
            files.putAll(
                history.written(tx, all.stream().map(one -> one.contents().id()).toList()));
          }
          return Archive.write(files);
        });
  }

  /** The surroundings of all rulebases as the files of a company's folder, by their paths. */
  public SortedMap<String, String> surroundings() {
    return sql.reading(tx -> files(tx, List.of()));
  }

  private SortedMap<String, String> files(
      Sql.Transaction tx, List<CompanyWriter.Written> rulebasesWritten) throws SQLException {
    SortedMap<Integer, List<ApplicationDoc>> editions = new TreeMap<>();
    for (int edition : company.editions(tx)) {
      editions.put(edition, company.applications(tx, edition));
    }
    return CompanyWriter.files(workspace.contents(tx), editions, rulebasesWritten);
  }
}
