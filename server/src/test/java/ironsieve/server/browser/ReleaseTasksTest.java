package ironsieve.server.browser;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static ironsieve.server.browser.Browsing.button;
import static org.assertj.core.api.Assertions.assertThat;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import io.quarkus.test.common.http.TestHTTPResource;
import io.quarkus.test.junit.QuarkusTest;
import ironsieve.server.GatewayProcess;
import ironsieve.server.Ports;
import java.net.URI;
import java.nio.file.Path;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** From a rule that is drafted to a real client that is refused, and back. */
@QuarkusTest
class ReleaseTasksTest extends WithBrowser {

  private static final String THROUGH = "0 " + GatewayProcess.PAGE;

  @TestHTTPResource("/")
  URI address;

  private static Locator section(Page page, String name) {
    return page.getByRole(
        AriaRole.REGION, new Page.GetByRoleOptions().setName(name).setExact(true));
  }

  /** Releases the draft although something stands against it, which is said of each. */
  private static void release(Page page, String title, int revision) {
    page.getByLabel("What it is for").fill(title);
    Locator next = section(page, "The next release");
    assertThat(next.locator("[aria-busy=false]")).isVisible();
    for (Locator why : next.getByPlaceholder("why it is released so").all()) {
      why.fill("it has been so for years");
    }
    button(page, "Release revision " + revision).click();
  }

  private static final String PROBE =
      "from Offices 10.20.0.40 as ines.halloran to Internet page.example using tcp/80 HTTP";

  /** Opens the page through the gateway as the one who is stopped, and as somebody else. */
  private static void tryFromAClient(Page page) {
    section(page, "Gateways").getByText("Try it from a client").click();
    page.getByLabel("From").selectOption("Offices");
    page.getByLabel("As, or nobody known").fill("ines.halloran");
    button(page, "Open it").click();
    Locator came = section(page, "What came of it on quay");
    assertThat(came).containsText("No answer at all. quay decided by release 2: deny by rule 49");
    assertThat(section(page, "Live")).containsText("as ines.halloran");
    page.getByLabel("As, or nobody known").fill("aksel.mallory");
    page.keyboard().press("Enter");
    assertThat(came)
        .containsText(
            "Answered with 200. quay decided by release 2: allow by rule 50 Staff browse");
    came.getByText("What the client was sent").click();
    assertThat(came).containsText(GatewayProcess.PAGE);
    // The rule that stopped it says how often, and when last; the connection is there as a probe.
    page.getByLabel("As, or nobody known").fill("ines.halloran");
    page.keyboard().press("Enter");
    assertThat(came).containsText("deny by rule 49");
    came.getByRole(AriaRole.BUTTON)
        .filter(new Locator.FilterOptions().setHasText("rule 49"))
        .click();
    assertThat(page.getByText(" hits, last 20")).isVisible();
    assertThat(page.locator("#probe")).hasValue(Pattern.compile("as ines.halloran"));
  }

  @Test
  void aRuleIsReleasedAndRefusesARealClientUntilItIsTakenBack(@TempDir Path state)
      throws Exception {
    Page page = browsing.open("Wanda", "/releases");
    assertThat(page.getByText("Nothing is released yet")).isVisible();
    page.getByLabel("Name of a gateway").fill("quay");
    button(page, "Add").click();
    Locator code = page.getByRole(AriaRole.STATUS).locator("code");
    assertThat(code).isVisible();
    assertThat(section(page, "Gateways")).containsText("not enrolled yet");
    release(page, "As it was", 0);
    try (GatewayProcess gateway = new GatewayProcess(address, state)) {
      gateway.start("--code", code.textContent(), "--ports", String.valueOf(Ports.free()));
      assertThat(section(page, "Gateways")).containsText("release 1 is in force");
      assertThat(gateway.curl()).isEqualTo(THROUGH);

      browsing.go(page, "/");
      assertThat(Browsing.row(page, "gw-admin")).isVisible();
      page.keyboard().press("p");
      page.keyboard()
          .type("deny from Offices as ines.halloran to Internet page.example using tcp/80");
      page.keyboard().press("Enter");
      Locator draft = section(page, "New rule");
      assertThat(draft).containsText("Better above rule 49");
      page.getByLabel("Add a zone").press("Alt+Enter");
      assertThat(draft).not().containsText("Better above");
      assertThat(draft).containsText("another verdict");
      page.getByLabel("Add a zone").press("Control+Enter");
      assertThat(page.getByText("added a rule without a name").first()).isVisible();
      // Draft and in force are told apart: in the stack, and by the probe.
      assertThat(button(page, "1 not as release 1")).isVisible();
      assertThat(page.locator("[data-mark=new]")).hasCount(1);
      page.keyboard().press("u");
      assertThat(page.locator("[data-rule]")).hasCount(1);
      page.keyboard().press("u");
      page.locator("#probe").fill(PROBE);
      page.keyboard().press("Enter");
      assertThat(page.getByLabel("In force", new Page.GetByLabelOptions().setExact(true)))
          .containsText("In force (release 1) it is otherwise: allow, by rule");
      assertThat(gateway.curl()).isEqualTo(THROUGH);

      browsing.go(page, "/releases");
      Locator next = section(page, "The next release");
      assertThat(next)
          .containsText("quay decides by release 1 (As it was). Different: 1 rule new.");
      assertThat(next).containsText("of connections would get another verdict");
      assertThat(next).containsText("overridden before");
      release(page, "No page", 1);
      assertThat(section(page, "Gateways")).containsText("release 2 is in force");
      assertThat(gateway.curl()).startsWith("28 ");
      tryFromAClient(page);

      browsing.go(page, "/traffic");
      assertThat(page.getByLabel("Tapes")).containsText("gateway quay");
      browsing.go(page, "/releases");
      button(page, "Go back to this").click();
      Locator back = section(page, "Release 1 in force");
      assertThat(back).containsText("quay decides by release 2 (No page). Different: 1 rule gone.");
      button(page, "Put release 1 in force").click();
      assertThat(section(page, "Gateways")).containsText("release 1 is in force");
      assertThat(section(page, "Gateways")).containsText("release 2 is newer");
      assertThat(gateway.curl()).isEqualTo(THROUGH);
    }
    button(page, "Remove").click();
    assertThat(section(page, "Gateways")).not().containsText("in force");
  }
}
