package ironsieve.server.store;

import ironsieve.files.FaultException;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** Replays in the database: how far they are, for every server, and what came of them. */
@ApplicationScoped
public class ReplayStore {

  /** Whoever runs a replay says so every second; after so long nobody runs it any more. */
  private static final Duration GONE = Duration.ofSeconds(30);

  private static final int MOST = 50;

  @Inject Sql sql;

  /** Where a replay stands. */
  public enum Standing {
    RUNNING,
    DONE,
    FAILED;

    /** Its word in the database and in answers. */
    public String word() {
      return name().toLowerCase(java.util.Locale.ROOT);
    }
  }

  /**
   * What is to be replayed.
   *
   * @param source the path of the files, below the folder they lie in
   * @param revision of the rulebase
   * @param against the revision to compare with, if there is one
   */
  public record Asked(String source, long revision, Optional<Long> against) {}

  /**
   * A replay as it is.
   *
   * @param done parts of the work that are done, of {@code total} known so far
   * @param why it failed, or what is to be said of it; empty for nothing
   */
  public record Kept(
      int number,
      String who,
      Instant begun,
      Asked asked,
      Standing standing,
      int done,
      int total,
      String why) {}

  /** The replays of a rulebase, the newest first, without what came of them. */
  public List<Kept> of(String rulebase) {
    return sql.inTransaction(
        tx ->
            tx.rows(
                "select number, who, begun, source, revision, against, state, done, total, why,"
                    + " extract(epoch from now() - seen) as silent"
                    + " from replay where rulebase = ? order by number desc",
                ReplayStore::readRow,
                rulebase));
  }

  private static Kept readRow(ResultSet row) throws SQLException {
    Standing standing = Standing.valueOf(row.getString("state").toUpperCase(java.util.Locale.ROOT));
    boolean isGone = standing == Standing.RUNNING && row.getDouble("silent") > GONE.toSeconds();
    return new Kept(
        row.getInt("number"),
        row.getString("who"),
        row.getTimestamp("begun").toInstant(),
        new Asked(
            row.getString("source"),
            row.getLong("revision"),
            Optional.ofNullable(row.getObject("against", Long.class))),
        isGone ? Standing.FAILED : standing,
        row.getInt("done"),
        row.getInt("total"),
        isGone ? "the server that ran it is gone" : row.getString("why"));
  }

  /** What came of a replay as JSON; nothing where there is none or it has not ended well. */
  public Optional<String> result(String rulebase, int number) {
    return sql.inTransaction(
        tx ->
            tx.row(
                "select result from replay where rulebase = ? and number = ?"
                    + " and result is not null",
                row -> row.getString("result"),
                rulebase,
                number));
  }

  /**
   * Keeps a new one, which is running.
   *
   * @return its number
   * @throws FaultException if there are too many already
   */
  public int begin(String rulebase, String who, Asked asked) {
    return sql.inTransaction(
        tx -> {
          // One after the other, so that no two get the same number.
          tx.row("select 1 from rulebase where id = ? for update", row -> true, rulebase);
          int count =
              tx.row(
                      "select count(*) as n from replay where rulebase = ?",
                      row -> row.getInt("n"),
                      rulebase)
                  .orElseThrow();
          if (count >= MOST) {
            throw new FaultException(
                "replay", "", "there are " + MOST + " replays already; remove one first");
          }
          return tx.row(
                  "insert into replay (rulebase, number, who, source, revision, against, state)"
                      + " select ?, coalesce(max(number), 0) + 1, ?, ?, ?, ?::bigint, 'running'"
                      + " from replay where rulebase = ? returning number",
                  row -> row.getInt("number"),
                  rulebase,
                  who,
                  asked.source(),
                  asked.revision(),
                  asked.against().orElse(null),
                  rulebase)
              .orElseThrow();
        });
  }

  /** Tells how far one is; whether it is still wanted. */
  public boolean tell(String rulebase, int number, int done, int total) {
    return sql.inTransaction(
        tx ->
            tx.change(
                    "update replay set done = ?, total = ?, seen = now()"
                        + " where rulebase = ? and number = ?",
                    done,
                    total,
                    rulebase,
                    number)
                > 0);
  }

  /** Keeps how one ended: with a result as JSON, or with none and why. */
  public void end(String rulebase, int number, Optional<String> result, String why) {
    sql.inTransaction(
        tx ->
            tx.change(
                "update replay set state = ?, why = ?, result = ?::jsonb"
                    + " where rulebase = ? and number = ?",
                (result.isPresent() ? Standing.DONE : Standing.FAILED).word(),
                why,
                result.orElse(null),
                rulebase,
                number));
  }

  /** Takes one out, which stops it where it runs; whether there was one. */
  public boolean remove(String rulebase, int number) {
    return sql.inTransaction(
        tx ->
            tx.change("delete from replay where rulebase = ? and number = ?", rulebase, number)
                > 0);
  }
}
