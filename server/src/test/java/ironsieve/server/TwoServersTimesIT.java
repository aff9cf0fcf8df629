package ironsieve.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;

/** What a second server over the same database costs. */
@Tag("long")
class TwoServersTimesIT {

  private static final int RULES = 2_000;
  private static final int EDITS = 12;
  private static final int READERS = 8;

  /** Reported and not asserted: the servers share the processors with each other and the test. */
  @Test
  void howLongAnEditAndItsReviewTakeOnOneServerAndOnBoth() throws Exception {
    try (PackagedServer one = new PackagedServer("times").afresh();
        PackagedServer other = new PackagedServer("times")) {
      one.start("-Diron-sieve.generated=" + RULES);
      other.start();
      measure(one, other);
    }
  }

  private static void measure(PackagedServer one, PackagedServer other) throws Exception {
    String path = "/api/rulebases/generated-" + RULES;
    for (PackagedServer server : List.of(one, other)) {
      server.get(path + "/review");
    }
    // What a server does for the first time takes it longer.
    for (PackagedServer reading : List.of(one, other, one, other)) {
      List<Long> edits = new ArrayList<>();
      List<Long> reviews = new ArrayList<>();
      for (int i = 0; i < EDITS; i++) {
        long revision = one.get(path).get("revision").asLong();
        long begun = System.nanoTime();
        Map<String, Object> edit = PackagedServer.noting(revision, "g1000", "edit " + i);
        assertThat(one.post(path + "/edits", "ada", edit).statusCode()).isEqualTo(200);
        edits.add(System.nanoTime() - begun);
        List<CompletableFuture<Long>> readers = new ArrayList<>();
        for (int r = 0; r < READERS; r++) {
          readers.add(CompletableFuture.supplyAsync(() -> reviewed(reading, path, revision + 1)));
        }
        readers.forEach(reader -> reviews.add(reader.join()));
      }
      System.out.printf(
          "[two servers] %,d rules, edits on one, %d readers on %s: kept in %d ms, reviewed in %d ms,"
              + " slowest took %d milliseconds%n",
          RULES,
          READERS,
          reading == one ? "the same" : "the other",
          median(edits),
          median(reviews),
          Collections.max(reviews) / 1_000_000);
    }
  }

  private static long reviewed(PackagedServer server, String path, long revision) {
    try {
      long begun = System.nanoTime();
      assertThat(server.get(path + "/review").get("revision").asLong()).isEqualTo(revision);
      return System.nanoTime() - begun;
    } catch (Exception e) {
      throw new AssertionError(e);
    }
  }

  private static long median(List<Long> nanos) {
    return nanos.stream().sorted().toList().get(nanos.size() / 2) / 1_000_000;
  }
}
