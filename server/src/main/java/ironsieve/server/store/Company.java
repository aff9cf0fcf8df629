package ironsieve.server.store;

import ironsieve.files.CompanyFolder;
import ironsieve.files.DocumentReader;
import ironsieve.files.Documents.ApplicationDoc;
import ironsieve.files.FaultException;
import ironsieve.files.WorkspaceContents;
import ironsieve.model.Catalogue;
import ironsieve.model.Environment;
import ironsieve.server.jobs.FutureCache;
import ironsieve.traffic.signature.SignatureBook;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.LocalDate;
import java.util.ArrayList;
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
  @Inject WorkspaceStore store;
  @Inject Clock clock;
  private final AtomicReference<CompletableFuture<WorkspaceVersion>> known =
      new AtomicReference<>();
  private final FutureCache<Written, Catalogue> editions = FutureCache.ofCount(8);
  private final FutureCache<Book, SignatureBook> books = FutureCache.ofCount(2);

  /**
   * What a version of the workspace says.
   *
   * @param version how often it has changed
   * @param records how often its records have, and not only which rulebases there are
   * @param contents its records
   * @param environment the same as nouns, with the edition of the catalogue that is in force
   */
  public record WorkspaceVersion(
      long version, long records, WorkspaceContents contents, Environment environment) {}

  /** The day it is. */
  public LocalDate today() {
    return LocalDate.now(clock);
  }

  /** What the newest version says as of today. */
  public WorkspaceVersion newest() {
    return at(sql.inTransaction(tx -> version(tx)));
  }

  /** How often the workspace has changed. */
  public static long version(Sql.Transaction tx) throws java.sql.SQLException {
    return tx.row("select version from workspace", row -> row.getLong(1)).orElseThrow();
  }

  /** The surroundings as of today. */
  public Environment environment() {
    return newest().environment();
  }

  /** What a version says as of today; if it is no longer the newest, what a newer one says. */
  public WorkspaceVersion at(long version) {
    while (true) {
      CompletableFuture<WorkspaceVersion> current = known.get();
      if (current != null && fits(current, version)) {
        return current.join();
      }
      CompletableFuture<WorkspaceVersion> next = new CompletableFuture<>();
      if (known.compareAndSet(current, next)) {
        try {
          next.complete(read(today(), current));
        } catch (RuntimeException e) {
          known.compareAndSet(next, null);
          next.completeExceptionally(e);
          throw e;
        }
        return next.join();
      }
    }
  }

  private boolean fits(CompletableFuture<WorkspaceVersion> reading, long version) {
    if (reading.isCompletedExceptionally()) {
      return false;
    }
    WorkspaceVersion read = reading.join();
    return read.version() >= version && read.environment().today().equals(today());
  }

  private WorkspaceVersion read(LocalDate today, CompletableFuture<WorkspaceVersion> before) {
    Optional<WorkspaceVersion> old =
        before == null || before.isCompletedExceptionally()
            ? Optional.empty()
            : Optional.of(before.join()).filter(known -> known.environment().today().equals(today));
    return sql.reading(
        tx -> {
          long version = version(tx);
          long records =
              tx.row("select records from workspace", row -> row.getLong(1)).orElseThrow();
          // Where only rulebases came or went, nothing that was worked out is worked out again.
          if (old.isPresent() && old.get().records() == records) {
            return new WorkspaceVersion(
                version, records, old.get().contents(), old.get().environment());
          }
          WorkspaceContents contents = store.contents(tx);
          Catalogue edition = catalogue(tx, contents.edition());
          return new WorkspaceVersion(
              version, records, contents, contents.environment(number -> edition, today));
        });
  }

  /** The signatures of the edition in force and of the organisation's own applications. */
  public SignatureBook signatures(WorkspaceContents contents) {
    return signatures(contents.edition(), List.copyOf(contents.applications()));
  }

  private SignatureBook signatures(int number, List<ApplicationDoc> own) {
    String by = number == 0 ? "" : sql.inTransaction(tx -> writtenBy(tx, number)).orElse("");
    return books.get(
        new Book(new Written(number, by), own),
        () -> {
          List<ApplicationDoc> edition =
              number == 0 ? List.of() : sql.inTransaction(tx -> applications(tx, number));
          List<SignatureBook.Written> all = new ArrayList<>();
          edition.forEach(one -> all.add(SignatureBook.written(one, false)));
          own.forEach(one -> all.add(SignatureBook.written(one, true)));
          return new SignatureBook(all);
        });
  }

  /** The signatures of an edition with these own ones. */
  public SignatureBook signaturesWith(int number, WorkspaceContents contents) {
    return signatures(number, List.copyOf(contents.applications()));
  }

  /** An edition as one transaction wrote it; another may have put other applications there. */
  private record Written(int number, String by) {}

  /** An edition with these own applications. */
  private record Book(Written edition, List<ApplicationDoc> own) {}

  private static Optional<String> writtenBy(Sql.Transaction tx, int number)
      throws java.sql.SQLException {
    return tx.row(
        "select xmin::text from application where edition = ? order by position limit 1",
        row -> row.getString(1),
        number);
  }

  /** The editions there are, oldest first. */
  public List<Integer> editions() {
    return sql.inTransaction(this::editions);
  }

  List<Integer> editions(Sql.Transaction tx) throws java.sql.SQLException {
    return tx.rows("select distinct edition from application order by edition", r -> r.getInt(1));
  }

  /** One edition of the catalogue; without applications if there is no such edition. */
  public Catalogue edition(int number) {
    String by = sql.inTransaction(tx -> writtenBy(tx, number)).orElse("");
    return by.isEmpty()
        ? sql.inTransaction(tx -> catalogue(tx, number))
        : editions.get(
            new Written(number, by), () -> sql.inTransaction(tx -> catalogue(tx, number)));
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

  /** The same where records were changed, and not only which rulebases there are. */
  public void recordsChanged(Sql.Transaction tx) throws java.sql.SQLException {
    tx.change("update workspace set version = version + 1, records = records + 1");
  }

  /**
   * Keeps an edition of the catalogue from a file; it is put in force apart.
   *
   * @throws FaultException naming line and column, or if there is such an edition
   */
  public void loadEdition(int edition, String csv) {
    String place = "edition " + edition;
    if (edition < 1) {
      throw new FaultException(place, "edition", "editions are numbered from 1");
    }
    CompanyFolder file =
        new CompanyFolder(
            path -> Optional.of(new ByteArrayInputStream(csv.getBytes(StandardCharsets.UTF_8))));
    List<ApplicationDoc> applications = file.applications(edition);
    if (applications.isEmpty()) {
      throw new FaultException(place, "edition", "there is no application in it");
    }
    new SignatureBook(applications.stream().map(one -> SignatureBook.written(one, false)).toList())
        .problems()
        .forEach(
            problem -> {
              throw new FaultException(place, "signatures", problem.sentence());
            });
    sql.inTransaction(
        tx -> {
          lockForChange(tx);
          if (editions(tx).contains(edition)) {
            throw new FaultException(
                place, "edition", "there is one of this number already, and it never changes");
          }
          keepEdition(tx, edition, applications);
          return edition;
        });
  }

  /** Keeps the applications of an edition of the catalogue; it is put in force apart. */
  public void keepEdition(Sql.Transaction tx, int edition, List<ApplicationDoc> applications)
      throws java.sql.SQLException {
    List<Object[]> rows = new ArrayList<>();
    for (ApplicationDoc application : applications) {
      rows.add(new Object[] {edition, application.name(), rows.size(), sql.json(application)});
    }
    tx.changeAll(
        "insert into application (edition, name, position, doc) values (?, ?, ?, ?::jsonb)", rows);
  }

  private Catalogue catalogue(Sql.Transaction tx, int edition) throws java.sql.SQLException {
    return new Catalogue(
        edition, applications(tx, edition).stream().map(DocumentReader::application).toList());
  }

  /** The applications of an edition, in its order; none if there is no such edition. */
  List<ApplicationDoc> applications(Sql.Transaction tx, int edition) throws java.sql.SQLException {
    return tx.rows(
        "select doc from application where edition = ? order by position",
        row -> sql.document(row, "doc", ApplicationDoc.class),
        edition);
  }
}
