package ironsieve.server.browser;

import static io.restassured.RestAssured.given;
import static org.assertj.core.api.Assertions.assertThat;

import com.microsoft.playwright.Browser;
import com.microsoft.playwright.Page;
import com.sun.net.httpserver.HttpServer;
import io.quarkus.test.common.http.TestHTTPResource;
import io.quarkus.test.junit.QuarkusTest;
import ironsieve.server.DemoData;
import jakarta.inject.Inject;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * A page of somebody else, open in the same browser, tries all a page can to edit; and a name whose
 * owner bound it to this machine tries to pass for the server's own.
 */
@QuarkusTest
class ForeignPageTest {

  private static final String EDITS = "/api/rulebases/main-gateway/edits";
  private static final String RULE = "br-chat";

  @Inject DemoData demo;

  @TestHTTPResource("/")
  URI address;

  private HttpServer foreign;
  private Browser browser;

  @BeforeEach
  void open() throws IOException {
    demo.restore();
    foreign = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    foreign.createContext(
        "/",
        exchange -> {
          byte[] page = "<!doctype html><title>Foreign</title>".getBytes(StandardCharsets.UTF_8);
          exchange.getResponseHeaders().set("Content-Type", "text/html");
          exchange.sendResponseHeaders(200, page.length);
          exchange.getResponseBody().write(page);
          exchange.close();
        });
    foreign.start();
    browser = Browsing.launched("--host-resolver-rules=MAP *.example 127.0.0.1");
  }

  @AfterEach
  void close() {
    browser.close();
    foreign.stop(0);
  }

  private static long revision() {
    return given().get("/api/rulebases/main-gateway").jsonPath().getLong("revision");
  }

  private static String edit() {
    return "{\"revision\":%d,\"what\":\"forged\",\"steps\":[{\"op\":\"REMOVE_RULE\",\"id\":\"%s\"}]}"
        .formatted(revision(), RULE);
  }

  /** Does as a page does with a body; what became of it the page may not be told. */
  private static String sends(Page page, String script, String target, String body) {
    return page.evaluate(
            "([target, body]) => (async () => { try { "
                + script
                + " } catch (failure) { return 'failed' } })()",
            new String[] {target, body})
        .toString();
  }

  @ParameterizedTest
  @ValueSource(strings = {"localhost", "127.0.0.1", "foreign.example"})
  void aForeignPageChangesNothing(String host) {
    Page page = browser.newPage();
    page.navigate("http://" + host + ":" + foreign.getAddress().getPort() + "/");
    String target = address.resolve(EDITS).toString();
    long before = revision();
    for (String type : new String[] {"text/plain", "application/json", ""}) {
      for (String mode : new String[] {"no-cors", "cors"}) {
        sends(
            page,
            "const reply = await fetch(target, {method: 'POST', mode: '"
                + mode
                + "', body: new Blob([body], {type: '"
                + type
                + "'})}); return String(reply.status)",
            target,
            edit());
      }
    }
    sends(
        page,
        "return String(navigator.sendBeacon(target, new Blob([body], {type: 'text/plain'})))",
        target,
        edit());
    page.evaluate(
        "([target, body]) => {"
            + "const form = document.createElement('form');"
            + "form.method = 'post'; form.enctype = 'text/plain'; form.action = target;"
            + "const field = document.createElement('input');"
            + "field.name = body.slice(0, -1) + ', \"x\": \"'; field.value = '\"}';"
            + "form.append(field); document.body.append(form); form.submit() }",
        new String[] {target, edit()});
    page.waitForURL(target);
    assertThat(page.locator("body").innerText()).contains("own pages");
    assertThat(revision()).isEqualTo(before);
    assertThat(given().get("/api/rulebases/main-gateway").asString()).contains(RULE);
  }

  @Test
  void itsOwnPageDoes() {
    Page page = browser.newPage();
    page.navigate(address.toString());
    String reply =
        sends(
            page,
            "return String((await fetch(target, {method: 'POST', body,"
                + " headers: {'Content-Type': 'application/json'}})).status)",
            address.resolve(EDITS).toString(),
            edit());
    assertThat(reply).isEqualTo("200");
  }

  @Test
  void aNameThatWasBoundToThisMachineIsNotServed() {
    Page page = browser.newPage();
    String rebound = "http://rebound.example:" + address.getPort();
    assertThat(page.navigate(rebound + "/").status()).isEqualTo(421);
    long before = revision();
    for (String path : new String[] {"/api/rulebases", "/api/rulebases/main-gateway"}) {
      assertThat(sends(page, "return String((await fetch(target)).status)", rebound + path, ""))
          .isIn("421", "failed");
    }
    sends(
        page,
        "return String((await fetch(target, {method: 'POST', body,"
            + " headers: {'Content-Type': 'application/json'}})).status)",
        rebound + EDITS,
        edit());
    assertThat(revision()).isEqualTo(before);
  }
}
