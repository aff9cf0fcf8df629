package ironsieve.server.store;

import ironsieve.files.Documents.ApplicationDoc;
import ironsieve.files.Documents.AtlasDoc;
import ironsieve.files.Documents.GroupDoc;
import ironsieve.files.Documents.PersonDoc;
import ironsieve.files.Documents.ZoneDoc;
import ironsieve.files.Nouns;
import ironsieve.model.Atlas;
import ironsieve.model.Catalogue;
import ironsieve.model.Surroundings;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.time.Clock;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;

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
                catalogue(tx, inForce(tx)),
                atlas(tx),
                today));
  }

  private Atlas atlas(Sql.Transaction tx) throws java.sql.SQLException {
    return tx.row("select doc from atlas", row -> sql.document(row, "doc", AtlasDoc.class))
        .map(Nouns::atlas)
        .orElse(Atlas.EMPTY);
  }

  private static int inForce(Sql.Transaction tx) throws java.sql.SQLException {
    Optional<Integer> adopted =
        tx.row(
            "select edition from edition_in_force order by since desc limit 1", r -> r.getInt(1));
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

  /** Puts an edition in force, for all rulebases from now on. */
  public void adopt(int edition, String who) {
    sql.inTransaction(
        tx -> {
          tx.change("insert into edition_in_force (edition, who) values (?, ?)", edition, who);
          return edition;
        });
    forget();
  }

  private Catalogue catalogue(Sql.Transaction tx, int edition) throws java.sql.SQLException {
    List<ApplicationDoc> docs =
        tx.rows(
            "select doc from application where edition = ? order by position",
            row -> sql.document(row, "doc", ApplicationDoc.class),
            edition);
    return new Catalogue(edition, docs.stream().map(Nouns::application).toList());
  }
}
