package ironsieve.server;

import io.quarkus.test.common.QuarkusTestResourceLifecycleManager;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.Map;

/**
 * Tests wipe their database. Before the first of them touches it, it has to be one that was made
 * for them: by its name, and by the comment that {@code ./sieve} has left on it.
 */
public final class OwnDatabase implements QuarkusTestResourceLifecycleManager {

  private static final String MADE = "made by ./sieve for tests";

  /** A connection to the tests' database, after a look at whose it is. */
  public static Connection open() throws SQLException {
    Connection connection =
        DriverManager.getConnection(
            System.getenv("IRON_SIEVE_TEST_DB_URL"),
            "ironsieve",
            System.getenv("IRON_SIEVE_TEST_DB_PASSWORD"));
    try (ResultSet found =
        connection
            .createStatement()
            .executeQuery(
                "select datname, coalesce(shobj_description(oid, 'pg_database'), '') from"
                    + " pg_database where datname = current_database()")) {
      found.next();
      String problem = problem(found.getString(1), found.getString(2));
      if (!problem.isEmpty()) {
        connection.close();
        throw new IllegalStateException(problem);
      }
    }
    return connection;
  }

  /** Why tests do not touch a database of this name with this comment; empty if they may. */
  static String problem(String name, String comment) {
    return name.matches("ironsieve_test_[a-z]+") && comment.equals(MADE)
        ? ""
        : "the database "
            + name
            + " was not made for tests, which would wipe it; run ./sieve test, which makes one";
  }

  @Override
  public Map<String, String> start() {
    try {
      open().close();
      return Map.of();
    } catch (SQLException e) {
      throw new IllegalStateException("the tests' database does not answer", e);
    }
  }

  @Override
  public void stop() {
    // The database stays for whoever looks at what was left in it.
  }
}
