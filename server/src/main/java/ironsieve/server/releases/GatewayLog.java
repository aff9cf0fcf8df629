package ironsieve.server.releases;

import ironsieve.files.FaultException;
import ironsieve.server.store.Sql;
import ironsieve.server.tapes.GatewayTapes;
import ironsieve.traffic.log.LoggedDecision;
import ironsieve.traffic.log.SyslogLine;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * What gateways decided, as they say it: a tape of their traffic, how often each rule caught
 * something and when last, and the newest connections. Safe for any number of threads.
 */
@ApplicationScoped
public class GatewayLog {

  /** So many connections of one gateway are kept in full. */
  static final int MOST_KEPT = 500;

  private static final String COLUMNS =
      "select number, gateway, at, release, verdict, rule, client, probe from gateway_connection ";

  @Inject Sql sql;
  @Inject GatewayTapes tapes;

  /**
   * What became of lines.
   *
   * @param refused how many could not be read
   * @param trouble why none of them is on the tape; else empty
   */
  public record Taken(long refused, String trouble) {}

  /**
   * A connection that a gateway decided.
   *
   * @param number rises with each
   * @param verdict its word; nothing for one that ended before it was decided
   * @param rule the id of the rule that caught it; nothing for the default verdict
   * @param client the port that the client spoke from
   * @param probe its words
   */
  public record Decided(
      long number,
      String gateway,
      Instant at,
      int release,
      Optional<String> verdict,
      Optional<String> rule,
      int client,
      String probe) {}

  /**
   * How often a gateway's rule caught something.
   *
   * @param rule its id; nothing for the default verdict
   */
  public record Hits(String gateway, Optional<String> rule, long hits, Instant last) {}

  /**
   * Takes lines of syslog from a gateway, for good once this returns. Who never hears that sends
   * them again, and they are counted again.
   *
   * @param dropped how many it could not tell of since it was started
   */
  public Taken take(Gateway gateway, List<String> lines, long dropped) {
    List<String> connections = new ArrayList<>();
    List<LoggedDecision> decisions = new ArrayList<>();
    long refused = 0;
    for (String line : lines) {
      try {
        Optional<LoggedDecision> told = SyslogLine.decision(line, ZoneId.systemDefault());
        told.ifPresent(decisions::add);
        if (SyslogLine.tellsConnection(line)) {
          connections.add(line);
        } else if (told.isEmpty()) {
          refused++;
        }
      } catch (SyslogLine.SyslogException e) {
        refused++;
      }
    }
    String trouble = "";
    if (!connections.isEmpty()) {
      try {
        refused += tapes.add(gateway.rulebase(), gateway.tape(), connections);
      } catch (FaultException e) {
        // What was decided is kept all the same.
        trouble = String.valueOf(e.getMessage());
      }
    }
    sql.inTransaction(
        tx -> {
          tx.change("update gateway set dropped = ? where name = ?", dropped, gateway.name());
          count(tx, gateway.name(), decisions);
          keep(tx, gateway.name(), decisions);
          return null;
        });
    return new Taken(refused, trouble);
  }

  private static Instant instant(LocalDateTime at) {
    return at.atZone(ZoneId.systemDefault()).toInstant();
  }

  private static void count(Sql.Transaction tx, String gateway, List<LoggedDecision> decisions)
      throws SQLException {
    // In one order, so that no two wait for each other.
    Map<String, Long> hits = new TreeMap<>();
    Map<String, Instant> last = new TreeMap<>();
    for (LoggedDecision one : decisions) {
      if (one.verdict().isPresent()) {
        String rule = one.rule().orElse("");
        hits.merge(rule, 1L, Long::sum);
        last.merge(rule, instant(one.at()), (a, b) -> a.isAfter(b) ? a : b);
      }
    }
    List<Object[]> rows = new ArrayList<>();
    hits.forEach(
        (rule, count) ->
            rows.add(new Object[] {gateway, rule, count, Timestamp.from(last.get(rule))}));
    tx.changeAll(
        "insert into gateway_hit (gateway, rule, hits, last) values (?, ?, ?, ?)"
            + " on conflict (gateway, rule) do update set hits = gateway_hit.hits + excluded.hits,"
            + " last = greatest(gateway_hit.last, excluded.last)",
        rows);
  }

  private static void keep(Sql.Transaction tx, String gateway, List<LoggedDecision> decisions)
      throws SQLException {
    List<Object[]> rows =
        decisions.stream()
            .skip(Math.max(0, decisions.size() - MOST_KEPT))
            .map(
                one ->
                    new Object[] {
                      gateway,
                      Timestamp.from(instant(one.at())),
                      one.release(),
                      one.verdict().map(verdict -> verdict.word()).orElse(null),
                      one.rule().orElse(""),
                      one.client(),
                      one.probe().orElse("")
                    })
            .toList();
    tx.changeAll(
        "insert into gateway_connection (gateway, at, release, verdict, rule, client, probe)"
            + " values (?, ?, ?, ?, ?, ?, ?)",
        rows);
    tx.change(
        "delete from gateway_connection where gateway = ? and number <= (select number from"
            + " gateway_connection where gateway = ? order by number desc offset ? limit 1)",
        gateway,
        gateway,
        MOST_KEPT);
  }

  /** How often the rules of a rulebase caught something, by its gateways. */
  public List<Hits> hits(String rulebase) {
    return sql.inTransaction(
        tx ->
            tx.rows(
                "select h.* from gateway_hit h join gateway g on g.name = h.gateway"
                    + " where g.rulebase = ? order by h.gateway, h.rule",
                row ->
                    new Hits(
                        row.getString("gateway"),
                        rule(row),
                        row.getLong("hits"),
                        row.getTimestamp("last").toInstant()),
                rulebase));
  }

  /** The connections of a rulebase's gateways after one, the newest first. */
  public List<Decided> newest(String rulebase, long after, int most) {
    return sql.inTransaction(
        tx ->
            tx.rows(
                COLUMNS
                    + "where gateway in (select name from gateway where rulebase = ?)"
                    + " and number > ? order by number desc limit ?",
                GatewayLog::decided,
                rulebase,
                after,
                most));
  }

  /** The number of the newest connection of all; 0 for none. */
  long last() {
    return sql.inTransaction(
        tx ->
            tx.row("select coalesce(max(number), 0) from gateway_connection", row -> row.getLong(1))
                .orElseThrow());
  }

  /** What a gateway decided last of a client that spoke from a port, after a connection. */
  Optional<Decided> of(String gateway, int client, long after) {
    return sql.inTransaction(
        tx ->
            tx.row(
                COLUMNS
                    + "where gateway = ? and client = ? and number > ? order by number desc limit 1",
                GatewayLog::decided,
                gateway,
                client,
                after));
  }

  private static Optional<String> rule(ResultSet row) throws SQLException {
    return Optional.of(row.getString("rule")).filter(id -> !id.isEmpty());
  }

  private static Decided decided(ResultSet row) throws SQLException {
    return new Decided(
        row.getLong("number"),
        row.getString("gateway"),
        row.getTimestamp("at").toInstant(),
        row.getInt("release"),
        Optional.ofNullable(row.getString("verdict")),
        rule(row),
        row.getInt("client"),
        row.getString("probe"));
  }
}
