package ironsieve.server.store;

import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.time.Instant;
import java.util.List;

/**
 * What happened beside the edits of a rulebase and yet can change what its rules do, or what is
 * said of them: another edition of the catalogue, another tape.
 */
@ApplicationScoped
public class Events {

  @Inject Sql sql;

  /** One of them, with what somebody did in a few words. */
  public record Event(Instant at, String who, String what) {}

  /** All that concern a rulebase, newest first. */
  public List<Event> beside(String rulebase) {
    return sql.inTransaction(
        tx ->
            tx.rows(
                "select since as at, who,"
                    + " case action when 'edit' then '' when 'undo' then 'undid: ' else 'redid: ' end"
                    + " || 'put catalogue edition '"
                    + " || case action when 'undo' then lag(edition) over (order by number) else edition end"
                    + " || ' in force' as what"
                    + " from edition_in_force"
                    + " union all"
                    + " select added, who, 'loaded the tape ' || name from tape where rulebase = ?"
                    + " order by at desc",
                row ->
                    new Event(
                        row.getTimestamp("at").toInstant(),
                        row.getString("who"),
                        row.getString("what")),
                rulebase));
  }
}
