package ironsieve.server.browser;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static ironsieve.server.browser.Browsing.button;
import static ironsieve.server.browser.Browsing.keys;
import static ironsieve.server.browser.Browsing.lens;
import static ironsieve.server.browser.Browsing.said;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import ironsieve.server.PackagedServer;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;

/** The packaged server is killed under an open page, and started again. */
class RestartIT {

  private static final String SCHEMA = "restarted";
  private static final String NOTE = "Asked for by the press office, until the regatta";

  private final PackagedServer server = new PackagedServer(SCHEMA);

  @AfterEach
  void stop() throws Exception {
    server.kill();
  }

  @Test
  void anOpenPageLosesNothingWhenTheServerIsKilledAndStartedAgain() throws Exception {
    server.afresh().start();
    try (Browsing browsing = new Browsing(server.address())) {
      Page page = browsing.open("Wanda", "/?rule=br-press");
      assertThat(lens(page)).containsText("Rule 50");
      keys(page, "x");
      assertThat(said(page)).containsText("switched rule 50");
      keys(page, "Enter");
      page.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("Name and note")).click();
      page.getByLabel("Note on the rule").fill(NOTE);

      server.kill();
      button(page, "Save").click();
      assertThat(page.getByRole(AriaRole.ALERT)).containsText("The server does not answer");
      assertThat(page.getByLabel("Note on the rule")).hasValue(NOTE);

      server.start();
      button(page, "Save").click();
      assertThat(said(page)).containsText("changed rule 50");
      keys(page, "Control+z", "Control+z");
      assertThat(said(page)).containsText("undid: switched rule 50");
      keys(page, "Control+Shift+z", "Control+Shift+z");
      assertThat(lens(page)).containsText(NOTE);
      page.reload();
      assertThat(lens(page)).containsText(NOTE);
      assertThat(lens(page)).containsText("off: it takes no part");

      keys(page, "?");
      for (String what : List.of("the server", "the pages")) {
        Locator list =
            page.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName(what).setExact(true));
        assertThat(page.request().get(server.address() + list.getAttribute("href"))).isOK();
        String licences = page.request().get(server.address() + list.getAttribute("href")).text();
        org.assertj.core.api.Assertions.assertThat(licences)
            .contains(what.equals("the server") ? "(Apache" : "MIT License")
            .doesNotContain("<html");
      }
    }
  }
}
