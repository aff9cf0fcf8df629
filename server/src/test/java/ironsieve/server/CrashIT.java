package ironsieve.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import ironsieve.Cases;
import java.io.IOException;
import java.net.http.HttpResponse;
import java.sql.Connection;
import java.sql.ResultSet;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.locks.LockSupport;
import org.junit.jupiter.api.Test;

/**
 * The server, or the database's processes that work for it, are killed in the middle of edits. What
 * was acknowledged is there afterwards; of what was not, nothing or all.
 */
class CrashIT {

  private static final String BASE = "/api/rulebases/main-gateway";
  private static final int ROUNDS = Cases.rounds(40);

  /** What one editor was told: notes that were acknowledged last, and the one under way. */
  private static final class Editor {
    private final String rule;
    private final AtomicInteger acknowledged;
    private String known = "";
    private String sent = "";

    Editor(String rule, AtomicInteger acknowledged) {
      this.rule = rule;
      this.acknowledged = acknowledged;
    }

    /** Edits until the server answers no more, or has answered often enough. */
    void work(PackagedServer server, int round, AtomicInteger most) {
      try {
        for (int i = 0; acknowledged.get() < most.get(); i++) {
          long revision = server.get(BASE).get("revision").asLong();
          sent = rule + " " + round + "." + i;
          HttpResponse<String> answer =
              server.post(BASE + "/edits", rule, PackagedServer.noting(revision, rule, sent));
          // 503 while the database has no ears; whether the edit was kept then nobody has said.
          assertThat(answer.statusCode()).as(answer.body()).isIn(200, 409, 503);
          if (answer.statusCode() == 503) {
            return;
          }
          if (answer.statusCode() == 200) {
            known = sent;
            acknowledged.incrementAndGet();
          }
        }
      } catch (IOException | IllegalStateException e) {
        // Killed; what was sent last is either there or not.
      } catch (Exception e) {
        throw new AssertionError(e);
      }
    }
  }

  @Test
  void nothingAcknowledgedIsLostWhateverIsKilled() throws Exception {
    Random random = new Random(17);
    int acknowledgedInAll = 0;
    int killedAtWork = 0;
    try (PackagedServer server = new PackagedServer("crashed").afresh()) {
      server.start();
      List<Editor> editors = new ArrayList<>();
      AtomicInteger acknowledged = new AtomicInteger();
      for (String rule : List.of("br-press", "br-chat", "br-intern")) {
        editors.add(new Editor(rule, acknowledged));
      }
      for (Editor editor : editors) {
        editor.known = PackagedServer.noteOn(server.get(BASE), editor.rule);
      }
      long first = server.get(BASE).get("revision").asLong();
      for (int round = 0; round < ROUNDS; round++) {
        int until = acknowledged.get() + 1 + random.nextInt(12);
        AtomicInteger most = new AtomicInteger(until + 200);
        int now = round;
        List<CompletableFuture<Void>> work =
            editors.stream()
                .map(editor -> CompletableFuture.runAsync(() -> editor.work(server, now, most)))
                .toList();
        while (acknowledged.get() < until) {
          LockSupport.parkNanos(1_000_000);
        }
        boolean ofDatabase = round % 2 == 1;
        if (ofDatabase) {
          killBackends();
        } else {
          server.kill();
        }
        killedAtWork += work.stream().anyMatch(one -> !one.isDone()) ? 1 : 0;
        most.set(0);
        work.forEach(CompletableFuture::join);
        if (!ofDatabase) {
          server.start();
        }
        JsonNode rulebase = afterwards(server);
        assertThat(rulebase.get("faults")).as("round %d", round).isEmpty();
        for (Editor editor : editors) {
          String note = PackagedServer.noteOn(rulebase, editor.rule);
          assertThat(note).as("round %d", round).isIn(editor.known, editor.sent);
          editor.known = note;
        }
        assertThat(rulebase.get("revision").asLong() - first)
            .isGreaterThanOrEqualTo(acknowledged.get());
      }
      acknowledgedInAll = acknowledged.get();
    }
    assertThat(acknowledgedInAll).isGreaterThan(ROUNDS);
    assertThat(killedAtWork).isGreaterThan(ROUNDS / 2);
  }

  /** The rulebase, as soon as the database has recovered. */
  private static JsonNode afterwards(PackagedServer server) throws Exception {
    for (int tries = 0; ; tries++) {
      try {
        return server.get(BASE);
      } catch (IllegalStateException e) {
        // While it recovers, whoever asks is told so, and asks again.
        if (tries > 2_000) {
          throw e;
        }
        LockSupport.parkNanos(20_000_000);
      }
    }
  }

  /** Kills the processes of the database that work for the server, without a word. */
  private static void killBackends() throws Exception {
    List<Long> processes = new ArrayList<>();
    try (Connection connection = OwnDatabase.open();
        ResultSet found =
            connection
                .createStatement()
                .executeQuery(
                    "select pid from pg_stat_activity where datname = current_database() and pid <>"
                        + " pg_backend_pid()")) {
      while (found.next()) {
        processes.add(found.getLong(1));
      }
    }
    assertThat(processes).isNotEmpty();
    processes.forEach(pid -> ProcessHandle.of(pid).ifPresent(ProcessHandle::destroyForcibly));
  }
}
