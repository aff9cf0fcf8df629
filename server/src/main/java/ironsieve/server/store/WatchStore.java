package ironsieve.server.store;

import ironsieve.files.FaultException;
import ironsieve.traffic.view.Narrowing;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;

/** Views of recorded traffic that somebody keeps an eye on. */
@ApplicationScoped
public class WatchStore {

  private static final int LONGEST_NAME = 200;

  @Inject Sql sql;

  /**
   * A watch.
   *
   * @param only what it narrows to, as {@code application:NAME} and so on
   * @param measure {@code connections} or {@code bytes}
   * @param threshold it is above where a step of time has more
   */
  public record WatchDoc(String name, List<String> only, String measure, long threshold) {

    public WatchDoc {
      only = only == null ? List.of() : Collections.unmodifiableList(new ArrayList<>(only));
    }

    /**
     * Demands that it can be looked at.
     *
     * @param place where it stands, such as a file
     * @throws FaultException saying what cannot be
     */
    public void demandSound(String place) {
      FaultException.demandName(place, "name", name, LONGEST_NAME);
      String here = place + " " + name;
      if (threshold < 0 || only.contains(null)) {
        throw new FaultException(
            here, "threshold", "say what it narrows to and a threshold from 0");
      }
      if (!List.of("connections", "bytes").contains(measure == null ? "" : measure)) {
        throw new FaultException(here, "measure", "connections or bytes, not " + measure);
      }
      try {
        Narrowing.wanted(only);
      } catch (IllegalArgumentException e) {
        throw new FaultException(here, "only", e.getMessage());
      }
    }
  }

  /** The watches of a rulebase, by name. */
  public List<WatchDoc> of(String rulebase) {
    return sql.inTransaction(tx -> of(tx, rulebase));
  }

  List<WatchDoc> of(Sql.Transaction tx, String rulebase) throws SQLException {
    return tx.rows(
        "select doc from watch where rulebase = ? order by name",
        row -> sql.document(row, "doc", WatchDoc.class),
        rulebase);
  }

  /** Keeps a watch, in the place of one of its name. */
  public void keep(String rulebase, String who, WatchDoc watch) {
    sql.inTransaction(tx -> keep(tx, rulebase, who, watch));
  }

  int keep(Sql.Transaction tx, String rulebase, String who, WatchDoc watch) throws SQLException {
    return tx.change(
        "insert into watch (rulebase, name, who, doc) values (?, ?, ?, ?::jsonb)"
            + " on conflict (rulebase, name) do update set doc = excluded.doc, who = excluded.who",
        rulebase,
        watch.name(),
        who,
        sql.json(watch));
  }

  /** Takes a watch out; whether there was one. */
  public boolean remove(String rulebase, String name) {
    return sql.inTransaction(
        tx -> tx.change("delete from watch where rulebase = ? and name = ?", rulebase, name) > 0);
  }
}
