package ironsieve.server;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.Cases;
import java.sql.Connection;
import java.sql.PreparedStatement;
import org.junit.jupiter.api.Test;

/**
 * More rulebases than fit into the heap at once, all of them asked for and edited, again and again:
 * what was not asked for the longest is given up and made again. Each takes some 15 MB compiled and
 * reviewed, so that without a bound the server would have to end.
 */
class ManyRulebasesIT {

  /** Far more than there is room for; in the short run still several times as many. */
  private static final int RULEBASES = Cases.isLong() ? 24 : 6;

  private static final int RULES = 2_000;

  @Test
  void anyNumberOfRulebasesIsServedFromASmallHeap() throws Exception {
    try (PackagedServer server = new PackagedServer("many").afresh()) {
      server.start("-Xmx256m", "-XX:+ExitOnOutOfMemoryError", "-Diron-sieve.generated=" + RULES);
      copies();
      for (int round = 0; round < 2; round++) {
        // The first ones have long been given up when they are asked for again.
        for (int i = 0; i < (round == 0 ? RULEBASES : 3); i++) {
          String path = "/api/rulebases/many-" + i;
          long revision = server.get(path).get("revision").asLong();
          assertThat(revision).isEqualTo(round);
          assertThat(server.get(path + "/review").get("rules")).isNotEmpty();
          String note = "round " + round;
          assertThat(
                  server
                      .post(path + "/edits", "wanda", PackagedServer.noting(revision, "g7", note))
                      .statusCode())
              .isEqualTo(200);
          assertThat(PackagedServer.noteOn(server.get(path), "g7")).isEqualTo(note);
        }
      }
    }
  }

  /** The generated rulebase as many times as there are to be. */
  private static void copies() throws Exception {
    try (Connection connection = OwnDatabase.open()) {
      connection.createStatement().execute("set search_path to many");
      for (int i = 0; i < RULEBASES; i++) {
        String own = "many-" + i;
        run(
            connection,
            "insert into rulebase (id, name, default_verdict)"
                + " select ?, name || ' again', default_verdict from rulebase where id = ?",
            own);
        run(
            connection,
            "insert into chapter (rulebase, id, doc)"
                + " select ?, id, doc from chapter where rulebase = ?",
            own);
        run(
            connection,
            "insert into rule (rulebase, id, doc) select ?, id, doc from rule where rulebase = ?",
            own);
      }
    }
  }

  private static void run(Connection connection, String sql, String id) throws Exception {
    try (PreparedStatement statement = connection.prepareStatement(sql)) {
      statement.setString(1, id);
      statement.setString(2, "generated-" + RULES);
      assertThat(statement.executeUpdate()).isPositive();
    }
  }
}
