package ironsieve.server.store;

import ironsieve.model.Catalogue;
import ironsieve.model.Surroundings;
import ironsieve.server.store.Documents.ApplicationDoc;
import ironsieve.server.store.Documents.GroupDoc;
import ironsieve.server.store.Documents.PersonDoc;
import ironsieve.server.store.Documents.ZoneDoc;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.time.Clock;
import java.time.LocalDate;
import java.util.List;

/** What rulebases are read against: zones, directory, catalogue, and what day it is. */
@ApplicationScoped
public class Company {

  @Inject Sql sql;
  private final Clock clock = Clock.systemDefaultZone();
  private volatile Surroundings known;

  /** The surroundings as of today; read from the database once a day or after {@link #forget()}. */
  public Surroundings surroundings() {
    Surroundings current = known;
    LocalDate today = LocalDate.now(clock);
    if (current == null || !current.today().equals(today)) {
      current = read(today);
      known = current;
    }
    return current;
  }

  /** Makes the next question read the database again. */
  public void forget() {
    known = null;
  }

  private Surroundings read(LocalDate today) {
    return sql.inTransaction(
        tx ->
            new Surroundings(
                tx
                    .rows(
                        "select doc from zone order by position",
                        row -> sql.document(row, "doc", ZoneDoc.class))
                    .stream()
                    .map(Nouns::zone)
                    .toList(),
                Nouns.directory(
                    tx.rows(
                        "select doc from person order by login",
                        row -> sql.document(row, "doc", PersonDoc.class)),
                    tx.rows(
                        "select doc from directory_group order by name",
                        row -> sql.document(row, "doc", GroupDoc.class))),
                tx.rows(
                    "select name from device_kind order by position", row -> row.getString("name")),
                catalogue(tx),
                today));
  }

  private Catalogue catalogue(Sql.Transaction tx) throws java.sql.SQLException {
    int edition =
        tx.row("select coalesce(max(edition), 0) as edition from application", r -> r.getInt(1))
            .orElse(0);
    List<ApplicationDoc> docs =
        tx.rows(
            "select doc from application where edition = ? order by position",
            row -> sql.document(row, "doc", ApplicationDoc.class),
            edition);
    return new Catalogue(edition, docs.stream().map(Nouns::application).toList());
  }
}
