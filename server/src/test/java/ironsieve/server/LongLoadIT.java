package ironsieve.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.BufferedWriter;
import java.io.InputStream;
import java.net.Socket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Traffic that takes longer to be loaded than a connection may be silent, and what others do
 * meanwhile.
 */
class LongLoadIT {

  private static final int LINES = 300_000;
  private static final String BASE = "/api/rulebases/main-gateway";

  @TempDir Path folder;

  private Path log() throws Exception {
    Path log = folder.resolve("log.csv");
    try (BufferedWriter out = Files.newBufferedWriter(log)) {
      out.write("time,from,to,service,person\n");
      for (int i = 0; i < LINES; i++) {
        out.write(
            String.format(
                "2026-11-%02dT%02d:%02d:00,10.20.12.%d,203.0.113.%d,tcp/%d,%n",
                1 + i % 20, i / 20 % 24, i / 480 % 60, 1 + i % 199, i % 97, 1 + i % 9_001));
      }
    }
    return log;
  }

  private static int littleLoad(PackagedServer server) throws Exception {
    return HttpClient.newHttpClient()
        .send(
            HttpRequest.newBuilder(URI.create(server.address() + BASE + "/tapes/little"))
                .header("Content-Type", "text/csv")
                .header("Sieve-Editor", "Piet")
                .PUT(
                    HttpRequest.BodyPublishers.ofString(
                        "time,from,to,service\n2026-11-20T09:00:00,10.20.12.4,203.0.113.9,tcp/443\n"))
                .build(),
            HttpResponse.BodyHandlers.ofString())
        .statusCode();
  }

  @Test
  void itIsAnsweredAndNobodyWaitsForIt() throws Exception {
    try (PackagedServer server = new PackagedServer("longload").afresh()) {
      server.start("-Xmx2g", "-Dquarkus.http.idle-timeout=1S");
      CompletableFuture<HttpResponse<String>> load =
          HttpClient.newHttpClient()
              .sendAsync(
                  HttpRequest.newBuilder(URI.create(server.address() + BASE + "/tapes/log"))
                      .header("Content-Type", "text/csv")
                      .PUT(HttpRequest.BodyPublishers.ofFile(log()))
                      .build(),
                  HttpResponse.BodyHandlers.ofString());
      int answered = 0;
      boolean isOthersLoaded = false;
      do {
        long revision = server.get(BASE).get("revision").asLong();
        assertThat(
                server
                    .post(
                        BASE + "/edits",
                        "wanda",
                        PackagedServer.noting(revision, "gw-admin", "note " + revision))
                    .statusCode())
            .isEqualTo(200);
        assertThat(server.get(BASE + "/review").get("rules")).isNotEmpty();
        assertThat(
                server
                    .post(
                        BASE + "/probe",
                        "wanda",
                        Map.of("text", "from Offices 10.20.12.10 to Internet using tcp/443"))
                    .statusCode())
            .isEqualTo(200);
        if (!isOthersLoaded) {
          // Nobody waits for somebody else's upload.
          assertThat(littleLoad(server)).isEqualTo(200);
          isOthersLoaded = !load.isDone();
        }
        answered += load.isDone() ? 0 : 1;
      } while (!load.isDone());
      // Others were answered while the load was not, more than once; and it was, after all.
      assertThat(answered).isGreaterThan(1);
      assertThat(isOthersLoaded).isTrue();
      assertThat(load.join().statusCode()).isEqualTo(200);
      assertThat(load.join().body()).contains("300000 lines read");

      // Whoever says nothing at all is still not waited for.
      URI address = URI.create(server.address());
      try (Socket silent = new Socket(address.getHost(), address.getPort());
          InputStream in = silent.getInputStream()) {
        silent.getOutputStream().write("GET /api/reb".getBytes(StandardCharsets.US_ASCII));
        assertThat(in.readAllBytes()).isEmpty();
      }
    }
  }
}
