package ironsieve.server.releases;

import ironsieve.files.Digests;
import ironsieve.server.edit.UnknownException;
import ironsieve.server.store.Sql;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.security.SecureRandom;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;

/** Gateways in the database. Of codes and keys only digests are kept. */
@ApplicationScoped
class GatewayStore {

  private static final String COLUMNS =
      "select name, rulebase, delivery, wanted, is_back, state, why, in_force, said,"
          + " clock_ahead, ports, dropped from gateway ";

  private static final SecureRandom RANDOM = new SecureRandom();

  @Inject Sql sql;

  private static String secret() {
    byte[] bytes = new byte[20];
    RANDOM.nextBytes(bytes);
    return HexFormat.of().formatHex(bytes);
  }

  /** All gateways, by name. */
  List<Gateway> all() {
    return sql.inTransaction(tx -> tx.rows(COLUMNS + "order by name", this::gateway));
  }

  /** Those of a rulebase. */
  List<Gateway> of(Sql.Transaction tx, String rulebase) throws SQLException {
    return tx.rows(COLUMNS + "where rulebase = ? order by name", this::gateway, rulebase);
  }

  Optional<Gateway> named(String name) {
    return sql.inTransaction(tx -> tx.row(COLUMNS + "where name = ?", this::gateway, name));
  }

  /**
   * The gateway of a name.
   *
   * @throws UnknownException naming those that there are
   */
  Gateway demand(String name) {
    return named(name)
        .orElseThrow(
            () -> UnknownException.of("gateway", name, all().stream().map(Gateway::name).toList()));
  }

  /** The gateway that has a key. */
  Optional<Gateway> withKey(String key) {
    return sql.inTransaction(
        tx -> tx.row(COLUMNS + "where key = ?", this::gateway, Digests.of(key)));
  }

  private Gateway gateway(ResultSet row) throws SQLException {
    int wanted = row.getInt("wanted");
    Optional<Integer> isWanted = row.wasNull() ? Optional.empty() : Optional.of(wanted);
    int inForce = row.getInt("in_force");
    Optional<Integer> isInForce = row.wasNull() ? Optional.empty() : Optional.of(inForce);
    return new Gateway(
        row.getString("name"),
        row.getString("rulebase"),
        row.getLong("delivery"),
        isWanted,
        row.getBoolean("is_back"),
        row.getString("state"),
        row.getString("why"),
        isInForce,
        Optional.ofNullable(row.getTimestamp("said")).map(java.sql.Timestamp::toInstant),
        row.getInt("clock_ahead"),
        List.of(sql.read(row.getString("ports"), Gateway.ZonePort[].class)),
        row.getLong("dropped"));
  }

  /** Makes one, or a new code for one; the code, which is told once. A key it had is gone. */
  String invite(String name, String rulebase) {
    String code = secret();
    sql.inTransaction(
        tx ->
            tx.change(
                "insert into gateway (name, rulebase, code) values (?, ?, ?) on conflict (name) do"
                    + " update set code = excluded.code, key = null,"
                    + " state = 'not enrolled'",
                name,
                rulebase,
                Digests.of(code)));
    return code;
  }

  /** What a gateway that enrols is called, and its key; nothing if the code is none or used. */
  Optional<Enrolled> enrol(String code) {
    String key = secret();
    return sql.inTransaction(
        tx -> {
          Optional<String> name =
              tx.row(
                  "select name from gateway where code = ? for update",
                  row -> row.getString(1),
                  Digests.of(code));
          if (name.isPresent()) {
            tx.change(
                "update gateway set code = null, key = ?, state = case when wanted is null then"
                    + " 'waiting' else 'told' end, said = now() where name = ?",
                Digests.of(key),
                name.get());
          }
          return name.map(one -> new Enrolled(one, key));
        });
  }

  /** The name and the key of a gateway. */
  record Enrolled(String name, String key) {}

  /** Tells a gateway to put a release in force. */
  void tell(Sql.Transaction tx, String name, int release, boolean isBack) throws SQLException {
    tx.change(
        "update gateway set delivery = delivery + 1, wanted = ?, is_back = ?, why = '', state ="
            + " case when key is null then 'not enrolled' else 'told' end where name = ?",
        release,
        isBack,
        name);
  }

  /** Keeps what a gateway says of itself; of an older delivery only what is in force. */
  void say(String name, long delivery, String state, String why, Optional<Integer> inForce) {
    sql.inTransaction(
        tx -> {
          tx.change(
              "update gateway set said = now(), in_force = ? where name = ?",
              inForce.orElse(null),
              name);
          return tx.change(
              "update gateway set state = ?, why = ? where name = ? and delivery = ?",
              state,
              why,
              name,
              delivery);
        });
  }

  /** Keeps where clients of a gateway come in. */
  void keepPorts(String name, List<Gateway.ZonePort> ports) {
    sql.inTransaction(
        tx ->
            tx.change("update gateway set ports = ?::jsonb where name = ?", sql.json(ports), name));
  }

  /** Keeps that one was heard of, and how many seconds its clock is ahead. */
  void heard(String name, int clockAhead) {
    sql.inTransaction(
        tx ->
            tx.change(
                "update gateway set said = now(), clock_ahead = ? where name = ?",
                clockAhead,
                name));
  }

  /** Takes one out; its key is worth nothing any more. */
  void remove(String name) {
    sql.inTransaction(tx -> tx.change("delete from gateway where name = ?", name));
  }
}
