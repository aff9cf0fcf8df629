package ironsieve.gateway.standins;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A real client finds every host, over TLS with a certificate of that host. */
class StandInServersTest {

  @TempDir private Path state;
  private StandInServers servers;

  @BeforeEach
  void start() throws Exception {
    servers = new StandInServers(state);
    servers.call();
  }

  @AfterEach
  void stop() {
    servers.close();
  }

  private String curl(String... arguments) throws Exception {
    return curl(servers.httpsPort(), arguments);
  }

  /** What curl prints that asks all hosts at a port, with its exit code before it. */
  private String curl(int port, String... arguments) throws Exception {
    List<String> command =
        new ArrayList<>(
            List.of(
                "curl",
                "-s",
                "--max-time",
                "20",
                "--cacert",
                state.resolve("authority.pem").toString(),
                "--connect-to",
                "::127.0.0.1:" + port));
    command.addAll(List.of(arguments));
    Process client = new ProcessBuilder(command).redirectErrorStream(true).start();
    String out = new String(client.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    return client.waitFor() + " " + out;
  }

  @Test
  void everyHostAnswersUnderACertificateOfItsOwn() throws Exception {
    assertThat(curl("https://page.example/a/b?c"))
        .isEqualTo("0 This stands in for page.example, asked to GET /a/b.\n");
    assertThat(curl("https://other.example/", "-d", "x"))
        .isEqualTo("0 This stands in for other.example, asked to POST /.\n");
    assertThat(curl("--head", "https://page.example/")).startsWith("0 HTTP/1.1 200");
  }

  @Test
  void theAuthorityStaysTheSameAndNobodyElsesIsTrusted() throws Exception {
    byte[] before = Files.readAllBytes(state.resolve("authority.pem"));
    servers.close();
    start();
    assertThat(state.resolve("authority.pem")).hasBinaryContent(before);
    assertThat(curl("--capath", "/nowhere", "https://page.example/")).startsWith("0 ");
    // 60: the certificate cannot be verified with what a client trusts by itself.
    assertThat(curl("--cacert", "/etc/ssl/certs/ca-certificates.crt", "https://page.example/"))
        .matches("(60|77) .*");
  }

  @Test
  void plainRequestsAreAnsweredToo() throws Exception {
    assertThat(curl(servers.httpPort(), "http://ferry.example/x"))
        .isEqualTo("0 This stands in for ferry.example, asked to GET /x.\n");
  }
}
