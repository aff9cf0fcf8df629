package ironsieve.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import org.flywaydb.core.Flyway;
import org.flywaydb.core.api.configuration.FluentConfiguration;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** That what a database of an older version holds is what this version makes of it. */
class MigrationsTest {

  private static final String SCHEMA = "migrated";

  @BeforeEach
  @AfterEach
  void clean() throws SQLException {
    try (Connection connection = OwnDatabase.open()) {
      connection.createStatement().execute("drop schema if exists " + SCHEMA + " cascade");
    }
  }

  private static FluentConfiguration migrations() {
    return Flyway.configure()
        .dataSource(
            System.getenv("IRON_SIEVE_TEST_DB_URL") + "?currentSchema=" + SCHEMA,
            "ironsieve",
            System.getenv("IRON_SIEVE_TEST_DB_PASSWORD"))
        .schemas(SCHEMA);
  }

  private static void run(String sql) throws SQLException {
    try (Connection connection = OwnDatabase.open()) {
      connection.createStatement().execute("set search_path to " + SCHEMA);
      connection.createStatement().execute(sql);
    }
  }

  private static String one(String sql) throws SQLException {
    try (Connection connection = OwnDatabase.open()) {
      connection.createStatement().execute("set search_path to " + SCHEMA);
      try (ResultSet row = connection.createStatement().executeQuery(sql)) {
        row.next();
        return row.getString(1);
      }
    }
  }

  @Test
  void findingsThatWereAcceptedUnderOlderNamesStayAccepted() throws SQLException {
    migrations().target("20").load().migrate();
    run(
        """
        insert into rulebase (id, name, default_verdict) values ('gate', 'Gate', 'deny');
        insert into accepted (rulebase, id, doc) values
          ('gate', 'r1:needs unmet',
           '{"rule": "r1", "kind": "needs unmet", "print": "2 x", "reason": "unguarded", "who": "Ada"}'),
          ('gate', 'r2:unguarded',
           '{"rule": "r2", "kind": "unguarded", "print": "2 y", "reason": "guests", "who": "Ada"}'),
          ('gate', 'r2:unnoted',
           '{"rule": "r2", "kind": "unnoted", "print": "2 y", "reason": "said elsewhere", "who": "Ada"}');
        insert into journal (rulebase, revision, who, reason, what, action, target, changes) values
          ('gate', 1, 'Ada', '', 'accepted a finding', 'edit', null,
           '[{"kind": "accepted", "id": "r2:unguarded", "after":
              {"rule": "r2", "kind": "unguarded", "print": "2 y", "reason": "guests", "who": "Ada"}}]');
        """);
    migrations().load().migrate();
    assertThat(one("select string_agg(id, ', ' order by id) from accepted"))
        .isEqualTo("r1:missing dependency, r2:no limits on what it may use, r2:unnoted");
    assertThat(one("select doc->>'kind' from accepted where id = 'r1:missing dependency'"))
        .isEqualTo("missing dependency");
    // What somebody wrote is theirs.
    assertThat(one("select doc->>'reason' from accepted where id = 'r1:missing dependency'"))
        .isEqualTo("unguarded");
    assertThat(one("select changes->0->>'id' from journal"))
        .isEqualTo("r2:no limits on what it may use");
    assertThat(one("select changes->0->'after'->>'kind' from journal"))
        .isEqualTo("no limits on what it may use");
  }
}
