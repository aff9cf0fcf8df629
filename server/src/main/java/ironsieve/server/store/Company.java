package ironsieve.server.store;

import ironsieve.files.DocumentReader;
import ironsieve.files.Documents.ApplicationDoc;
import ironsieve.files.Documents.AtlasDoc;
import ironsieve.files.Documents.GroupDoc;
import ironsieve.files.Documents.PersonDoc;
import ironsieve.files.Documents.ZoneDoc;
import ironsieve.model.Atlas;
import ironsieve.model.Catalogue;
import ironsieve.model.Environment;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.time.Clock;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.atomic.AtomicReference;

/**
 * What rulebases are read against: zones, directory, catalogue, and what day it is. Read once for
 * each version of the workspace and each day, however many ask for it at once.
 */
@ApplicationScoped
public class Company {

  @Inject Sql sql;
  @Inject Clock clock;
  private final AtomicReference<CompletableFuture<Known>> known = new AtomicReference<>();

  /**
   * What a version of the workspace says.
   *
   * @param version how often it has changed
   */
  public record Known(long version, Environment environment) {}

  /** The day it is. */
  public LocalDate today() {
    return LocalDate.now(clock);
  }

  /** What the newest version says as of today. */
  public Known newest() {
    return at(sql.inTransaction(tx -> version(tx)));
  }

  /** How often the workspace has changed. */
  static long version(Sql.Transaction tx) throws java.sql.SQLException {
    return tx.row("select version from workspace", row -> row.getLong(1)).orElseThrow();
  }

  /** The surroundings as of today. */
  public Environment environment() {
    return newest().environment();
  }

  /** What a version says as of today; if it is no longer the newest, what a newer one says. */
  public Known at(long version) {
    while (true) {
      CompletableFuture<Known> current = known.get();
      if (current != null && fits(current, version)) {
        return current.join();
      }
      CompletableFuture<Known> next = new CompletableFuture<>();
      if (known.compareAndSet(current, next)) {
        try {
          next.complete(read(today()));
        } catch (RuntimeException e) {
          known.compareAndSet(next, null);
          next.completeExceptionally(e);
          throw e;
        }
        return next.join();
      }
    }
  }

  private boolean fits(CompletableFuture<Known> reading, long version) {
    if (reading.isCompletedExceptionally()) {
      return false;
    }
    Known read = reading.join();
    return read.version() >= version && read.environment().today().equals(today());
  }

  private Known read(LocalDate today) {
    return sql.reading(
        tx -> {
          long version = version(tx);
          return new Known(version, read(tx, today));
        });
  }

  private Environment read(Sql.Transaction tx, LocalDate today) throws java.sql.SQLException {
    return new Environment(
        tx
            .rows(
                "select doc from zone order by position",
                row -> sql.document(row, "doc", ZoneDoc.class))
            .stream()
            .map(DocumentReader::zone)
            .toList(),
        DocumentReader.directory(
            tx.rows(
                "select doc from person order by login",
                row -> sql.document(row, "doc", PersonDoc.class)),
            tx.rows(
                "select doc from directory_group order by name",
                row -> sql.document(row, "doc", GroupDoc.class))),
        tx.rows("select name from device_kind order by position", row -> row.getString("name")),
        catalogue(tx, inForce(tx)),
        atlas(tx),
        today);
  }

  private Atlas atlas(Sql.Transaction tx) throws java.sql.SQLException {
    return tx.row("select doc from atlas", row -> sql.document(row, "doc", AtlasDoc.class))
        .map(DocumentReader::atlas)
        .orElse(Atlas.EMPTY);
  }

  private static int inForce(Sql.Transaction tx) throws java.sql.SQLException {
    Optional<Integer> adopted =
        tx.row(
            "select edition from edition_in_force order by number desc limit 1", r -> r.getInt(1));
    return adopted.isPresent()
        ? adopted.get()
        : tx.row("select coalesce(max(edition), 0) from application", r -> r.getInt(1)).orElse(0);
  }

  /** The editions there are, oldest first. */
  public List<Integer> editions() {
    return sql.inTransaction(
        tx ->
            tx.rows("select distinct edition from application order by edition", r -> r.getInt(1)));
  }

  /** One edition of the catalogue; without applications if there is no such edition. */
  public Catalogue edition(int number) {
    return sql.inTransaction(tx -> catalogue(tx, number));
  }

  /**
   * Keeps the workspace as it is until the transaction ends; nobody else can change it, and whoever
   * only reads is not kept waiting.
   *
   * @return its version
   */
  static long lockForReading(Sql.Transaction tx) throws java.sql.SQLException {
    return tx.row("select version from workspace for share", row -> row.getLong(1)).orElseThrow();
  }

  /**
   * Begins a change of the workspace: until the transaction ends nobody edits a rulebase either.
   *
   * @return its version so far
   */
  public long lockForChange(Sql.Transaction tx) throws java.sql.SQLException {
    return tx.row("select version from workspace for update", row -> row.getLong(1)).orElseThrow();
  }

  /** Counts a change that was begun with {@link #lockForChange}. */
  public void changed(Sql.Transaction tx) throws java.sql.SQLException {
    tx.change("update workspace set version = version + 1");
  }

  /**
   * Puts an edition in force, for all rulebases from now on; part of a change.
   *
   * @param action {@code edit}, {@code undo} or {@code redo}
   */
  public void adopt(Sql.Transaction tx, int edition, String who, String action)
      throws java.sql.SQLException {
    tx.change(
        "insert into edition_in_force (edition, who, action) values (?, ?, ?)",
        edition,
        who,
        action);
    changed(tx);
  }

  /** Every edition that an editor put in force, oldest first. */
  public List<Adoption> adoptions(Sql.Transaction tx, String who) throws java.sql.SQLException {
    return tx.rows(
        "select * from (select since, edition, action, who,"
            + " lag(edition, 1, edition) over (order by number) as replaced, number"
            + " from edition_in_force) as all_of_them where who = ? order by number",
        row ->
            new Adoption(
                row.getTimestamp("since").toInstant(),
                row.getInt("edition"),
                row.getInt("replaced"),
                row.getString("action")),
        who);
  }

  private Catalogue catalogue(Sql.Transaction tx, int edition) throws java.sql.SQLException {
    List<ApplicationDoc> docs =
        tx.rows(
            "select doc from application where edition = ? order by position",
            row -> sql.document(row, "doc", ApplicationDoc.class),
            edition);
    return new Catalogue(edition, docs.stream().map(DocumentReader::application).toList());
  }
}
