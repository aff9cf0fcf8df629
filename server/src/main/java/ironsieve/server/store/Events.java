package ironsieve.server.store;

import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.time.Instant;
import java.util.List;

/**
 * What happened beside the edits of a rulebase and yet can change what its rules do, or what is
 * said of them: a change of the workspace, another tape.
 */
@ApplicationScoped
public class Events {

  @Inject Sql sql;

  /** One of them, with what somebody did in a few words. */
  public record Event(Instant at, String who, String what) {}

  /** The newest that concern a rulebase, newest first. */
  public List<Event> beside(String rulebase) {
    return sql.inTransaction(
        tx ->
            tx.rows(
                "select at, who, what from workspace_journal"
                    + " union all"
                    + " select added, who, 'loaded the tape ' || name from tape where rulebase = ?"
                    + " order by at desc limit 500",
                row ->
                    new Event(
                        row.getTimestamp("at").toInstant(),
                        row.getString("who"),
                        row.getString("what")),
                rulebase));
  }
}
