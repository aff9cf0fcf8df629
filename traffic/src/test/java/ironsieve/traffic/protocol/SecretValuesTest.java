package ironsieve.traffic.protocol;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.model.Service;
import ironsieve.region.Address;
import java.nio.charset.StandardCharsets;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** What is nobody's business is not kept of a connection, in whatever way it is sent. */
class SecretValuesTest {

  private static final String SECRET = "hunter2hunter2";

  @ParameterizedTest
  @ValueSource(
      strings = {
        "Authorization",
        "proxy-authorization",
        "Cookie",
        "set-cookie",
        "X-Api-Key",
        "x-auth-token",
        "X-CSRF-Token",
        "X-Session-Id"
      })
  void headersWithSecretsKeepTheirLengthAndScheme(String name) {
    Fact masked = SecretValues.masked(Fact.header(name, "Bearer " + SECRET));
    assertThat(masked.text()).isEqualTo("Bearer **************");
    assertThat(SecretValues.masked(Fact.header(name, SECRET)).text()).isEqualTo("**************");
  }

  @Test
  void otherHeadersStayWhatTheyAre() {
    Fact agent = Fact.header("user-agent", "curl/8 hunter2");
    assertThat(SecretValues.masked(agent)).isSameAs(agent);
  }

  @ParameterizedTest
  @CsvSource({
    "/login?user=ada&password=hunter2hunter2, /login?user=ada&password=**************",
    "/a?access_token=hunter2hunter2#x, /a?access_token=**************#x",
    "/a?q=token&page=2, /a?q=token&page=2",
    "/token/list, /token/list"
  })
  void parametersOfAPageAreMasked(String path, String masked) {
    assertThat(SecretValues.masked(Fact.of(Field.PATH, path)).text()).isEqualTo(masked);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "USER ada\r\nPASS hunter2hunter2\r\n",
        "a1 LOGIN ada hunter2hunter2\r\n",
        "AUTH PLAIN hunter2hunter2\r\n",
        "GET /x?password=hunter2hunter2 HTTP/1.1\r\nHost: www.example\r\n",
        "GET / HTTP/1.1\r\nCookie: sid=hunter2hunter2\r\nHost: www.example\r\n",
        "GET / HTTP/1.1\r\nauthorization: Basic hunter2hunter2\r\n\r\n"
      })
  void firstBytesThatSignInOpenlyAreMaskedAndKeepTheirLength(String bytes) {
    Fact fact = new Fact(Field.CLIENT_BYTES, "", bytes.getBytes(StandardCharsets.ISO_8859_1));
    byte[] masked = SecretValues.masked(fact).value();
    assertThat(masked).hasSameSizeAs(fact.value());
    assertThat(new String(masked, StandardCharsets.ISO_8859_1))
        .doesNotContain("hunter2")
        .startsWith(bytes.substring(0, 4));
  }

  /** The doors through which everything that is kept comes. */
  @Test
  void nothingThatIsShownHoldsASecret() {
    ConnectionFacts shown = new ConnectionFacts(new Service(6, 80), Address.parse("192.0.2.1"));
    shown.add(
        new Fact(
            Field.CLIENT_BYTES,
            "",
            ("PASS " + SECRET + "\r\n").getBytes(StandardCharsets.ISO_8859_1)));
    shown.request(
        List.of(Fact.of(Field.PATH, "/?api_key=" + SECRET), Fact.header("cookie", SECRET)));
    assertThat(shown.facts().toString() + shown.requests().get(0).facts()).doesNotContain(SECRET);
  }
}
