package ironsieve.server.browser;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static ironsieve.server.browser.Browsing.button;
import static ironsieve.server.browser.Browsing.keys;
import static ironsieve.server.browser.Browsing.lens;
import static ironsieve.server.browser.Browsing.said;

import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import java.io.File;
import java.io.IOException;
import java.net.ServerSocket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.locks.LockSupport;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;

/** The packaged server is killed under an open page, and started again. */
class RestartIT {

  private static final String SCHEMA = "restarted";
  private static final String NOTE = "Asked for by the press office, until the regatta";

  private final int port = freePort();
  private Process server;

  private static int freePort() {
    try (ServerSocket socket = new ServerSocket(0)) {
      return socket.getLocalPort();
    } catch (IOException e) {
      throw new IllegalStateException(e);
    }
  }

  private void start(String... settings) throws Exception {
    List<String> command =
        new ArrayList<>(
            List.of(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-Dquarkus.http.port=" + port,
                "-Dquarkus.flyway.schemas=" + SCHEMA,
                "-Dquarkus.datasource.jdbc.url="
                    + System.getenv("IRON_SIEVE_DB_URL")
                    + "?currentSchema="
                    + SCHEMA));
    command.addAll(List.of(settings));
    command.addAll(List.of("-jar", "target/quarkus-app/quarkus-run.jar"));
    server =
        new ProcessBuilder(command)
            .redirectErrorStream(true)
            .redirectOutput(new File("target/restarted-server.log"))
            .start();
    HttpRequest ready =
        HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + "/api/health/ready"))
            .build();
    while (!answers(ready)) {
      if (!server.isAlive()) {
        throw new IllegalStateException("the server ended; see target/restarted-server.log");
      }
      LockSupport.parkNanos(100_000_000);
    }
  }

  private static boolean answers(HttpRequest request) throws InterruptedException {
    try {
      return HttpClient.newHttpClient()
              .send(request, HttpResponse.BodyHandlers.discarding())
              .statusCode()
          == 200;
    } catch (IOException e) {
      return false;
    }
  }

  private void kill() throws InterruptedException {
    server.destroyForcibly().waitFor();
  }

  @AfterEach
  void stop() throws Exception {
    kill();
  }

  @Test
  void anOpenPageLosesNothingWhenTheServerIsKilledAndStartedAgain() throws Exception {
    start("-Dquarkus.flyway.clean-at-start=true");
    try (Browsing browsing = new Browsing("http://127.0.0.1:" + port)) {
      Page page = browsing.open("Wanda", "/?rule=br-press");
      assertThat(lens(page)).containsText("Rule 50");
      keys(page, "x");
      assertThat(said(page)).containsText("switched rule 50");
      keys(page, "Enter");
      page.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("Name and note")).click();
      page.getByLabel("Note on the rule").fill(NOTE);

      kill();
      button(page, "Keep").click();
      assertThat(page.getByRole(AriaRole.ALERT)).containsText("The server does not answer");
      assertThat(page.getByLabel("Note on the rule")).hasValue(NOTE);

      start();
      button(page, "Keep").click();
      assertThat(said(page)).containsText("changed rule 50");
      keys(page, "Control+z", "Control+z");
      assertThat(said(page)).containsText("undid: switched rule 50");
      keys(page, "Control+Shift+z", "Control+Shift+z");
      assertThat(lens(page)).containsText(NOTE);
      page.reload();
      assertThat(lens(page)).containsText(NOTE);
      assertThat(lens(page)).containsText("off: it takes no part");
    }
  }
}
