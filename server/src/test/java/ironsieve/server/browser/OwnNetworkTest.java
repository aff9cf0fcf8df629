package ironsieve.server.browser;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static ironsieve.server.browser.Browsing.button;
import static ironsieve.server.browser.Browsing.lens;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.FilePayload;
import io.quarkus.test.junit.QuarkusTest;
import ironsieve.standins.DirectoryStandIn;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.List;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;

/** What somebody does who brings their own network, from a server on which nothing is yet. */
@QuarkusTest
class OwnNetworkTest extends WithBrowser {

  private static final String LDIF =
      """
      version: 1

      dn: cn=Clerks,ou=groups,dc=hafen,dc=example
      objectClass: groupOfNames
      cn: Clerks
      member: uid=zofia,ou=people,dc=hafen,dc=example

      dn: uid=zofia,ou=people,dc=hafen,dc=example
      objectClass: inetOrgPerson
      uid: zofia
      cn:: Wm9maWEgxYHEhWth
      """;

  private static FilePayload file(String name, String text) {
    return new FilePayload(name, "text/plain", text.getBytes(StandardCharsets.UTF_8));
  }

  private static void zone(Page page, String name, String side, String networks) {
    button(page, "New zone").press("Enter");
    Locator form = page.getByLabel("New zone").and(page.locator("form"));
    form.getByLabel("Name").fill(name);
    form.getByLabel("Side").selectOption(side);
    form.getByLabel("Networks").fill(networks);
    // What it does is told before it is saved.
    assertThat(form.getByLabel("What this would do")).containsText("One record changes");
    form.getByLabel("Name").press("Enter");
    assertThat(page.getByLabel("Zone " + name).and(page.locator("form"))).isVisible();
  }

  @Test
  void fromNothingToAReviewedRulebaseOfTheirOwn() {
    demo.clear();
    Page page = browsing.open("Zofia", "/");
    assertThat(page.getByText("Nothing is here yet.")).isVisible();
    page.getByLabel("Name of your organisation").fill("Hafen Łeba");
    page.getByLabel("Name of your organisation").press("Enter");

    assertThat(page.getByText("Begin with three")).isVisible();
    zone(page, "Offices", "inside", "10.1.0.0/16");
    zone(page, "Internet", "outside", "");
    zone(page, "Gateway", "gateway", "10.1.255.1");
    assertThat(page.getByLabel("IPv4 addresses")).containsText("Gateway");
    assertThat(page.getByText("1 run of addresses lies behind more than one zone")).isVisible();

    browsing.go(page, "/directory");
    assertThat(page.getByText("Nobody is known yet.")).isVisible();
    page.getByLabel("People and groups as CSV or LDIF").setInputFiles(file("people.ldif", LDIF));
    Locator loading = page.getByLabel("People from a file");
    assertThat(loading).containsText("read as LDIF");
    assertThat(loading).containsText("2 records change");
    button(page, "Bring them in").press("Enter");
    assertThat(page.getByLabel("People").getByText("Zofia Łąka")).isVisible();

    browsing.go(page, "/gateways");
    assertThat(page.getByText("There is no rulebase yet.")).isVisible();
    page.getByLabel("Name of the rulebase").fill("Harbour");
    page.getByLabel("Name of the rulebase").press("Enter");
    assertThat(page.locator("#stack")).containsText("Administration of the gateway");
    assertThat(page.locator("#stack")).containsText("Reaching the gateway");

    // A first rule, written as a sentence.
    Locator probe = page.getByLabel("Probe", new Page.GetByLabelOptions().setExact(true));
    probe.fill("allow from Offices as group Clerks to Internet using tcp/443");
    probe.press("Enter");
    assertThat(page.getByLabel("New rule", new Page.GetByLabelOptions().setExact(true)))
        .isVisible();
    page.keyboard().press("Control+Enter");
    assertThat(page.locator("#stack")).containsText("Clerks");
    assertThat(lens(page)).not().containsText("unknown name");
  }

  @Test
  void aRulebaseFromElsewhereIsBroughtInByKeyboard() {
    Page page = browsing.open("Wanda", "/gateways");
    page.getByLabel("from a file").check();
    page.getByLabel("A rulebase as text, JSON, CSV or access lists")
        .setInputFiles(
            file(
                "annex.rules",
                """
                rulebase "Annex"
                  default verdict deny

                chapter a "All"
                rule web "Browsing"
                  from zones: Office; Terminal
                  from people: group Clerks; livia.quist
                  using services: tcp/443
                  then: allow
                rule gone "Old"
                  to zones: Moon
                  then: deny
                """));
    Locator names = page.getByLabel("Names that are unknown here");
    assertThat(names).containsText("4 names stand for nothing here");
    assertThat(page.getByLabel("What would be made")).containsText("2 rules in 1 chapter");
    // Enter takes what is offered and goes on to the next.
    page.getByLabel("What Office is here").press("Enter");
    assertThat(names).containsText("3 names stand for nothing here");
    page.getByLabel("What Terminal is here").press("Enter");
    assertThat(names).containsText("2 names stand for nothing here");
    page.getByLabel("What group Clerks is here").fill("group Booking agents");
    page.getByLabel("What group Clerks is here").press("Enter");
    assertThat(names).containsText("1 name stands for nothing here");
    names.getByText("Leave it out").press("Enter");
    assertThat(names).containsText("Every name stands for something here.");
    button(page, "Make the rulebase").press("Enter");
    assertThat(page.locator("#stack")).containsText("Browsing");
    assertThat(page.locator("#row-web")).containsText("Offices");
    assertThat(page.locator("#row-gone")).containsText("Switched off when it was brought in");
  }

  @Test
  void aSpreadsheetOfForeignColumnsIsBroughtInOnceItsColumnsAreRight() {
    Page page = browsing.open("Wanda", "/gateways");
    page.getByLabel("from a file").check();
    page.getByLabel("The rulebase as text")
        .fill(
            """
            Rule;Where from;Destination;Service;Action
            Web;10.20.0.0 255.255.0.0;any;https;Accept
            Mail;10.20.0.0/16;192.0.2.20, 192.0.2.21;smtp;permit
            Odd;10.20.0.0/16;10.0.0.0/33;tcp/1;drop
            """);
    assertThat(page.getByLabel("What was not understood"))
        .containsText("line 4, to network: \"10.0.0.0/33\"");
    assertThat(page.getByLabel("What Where from holds")).hasValue("nothing");
    page.getByLabel("What Where from holds").selectOption("from networks");
    assertThat(page.getByLabel("What would be made")).containsText("3 rules in 1 chapter");
    page.getByLabel("Name of the rulebase").fill("Sheet");
    page.getByLabel("Name of the rulebase").press("Enter");
    assertThat(page.locator("#row-r1")).containsText("10.20.0.0/16");
    assertThat(page.locator("#row-r3")).containsText("Off, for this was not understood");
  }

  @Test
  void aWholeRulebaseIsChangedAsTextWithItsImpactFirst() {
    Page page = browsing.open("Wanda", "/gateways?find=rose");
    button(page, "As text").press("Enter");
    Locator text = page.getByLabel("All of the rulebase");
    assertThat(text).hasValue(Pattern.compile("No remote desks at sea"));
    text.fill(
        text.inputValue()
            .replace(
                "  using services: set Remote desks\n  then: deny",
                "  using services: set Remote desks\n  then: reject"));
    Locator told = page.getByLabel("What this would do");
    assertThat(told).containsText("1 changed or moved: No remote desks at sea");
    assertThat(told).containsText("groups of connections would get another verdict.");
    button(page, "Put it in place").press("Enter");
    assertThat(page.locator("#row-br-desk")).containsText("reject");
  }

  @Test
  void aSharedSetIsChangedWithItsImpactOnEveryGatewayAndTheChangeTakenBack() {
    Page page = browsing.open("Wanda", "/sets?find=name");
    assertThat(page.getByText("Shared by all gateways · 1")).isVisible();
    page.getByText("Name servers", new Page.GetByTextOptions().setExact(true)).first().click();
    Locator editor = page.getByLabel("Shared set Name servers");
    assertThat(editor).containsText("Saltmere Rose");
    editor.getByLabel("take away 192.0.2.11").press("Enter");
    Locator told = editor.getByLabel("What this would do");
    assertThat(told).containsText("of 3 rulebases 3 would notice");
    assertThat(told).containsText("Northquay terminal");
    button(page, "Save").press("Enter");
    assertThat(page.getByText("Saved: changed shared set Name servers.")).isVisible();
    browsing.go(page, "/gateways");
    button(page, "Undo: changed shared set Name servers").press("Enter");
    assertThat(button(page, "Redo: changed shared set Name servers")).isVisible();
    browsing.go(page, "/sets?find=name");
    assertThat(page.getByText("192.0.2.10, 192.0.2.11")).isVisible();
  }

  @Test
  void aNameThatIsMissingIsMadeWhileARulebaseIsBroughtIn() {
    Page page = browsing.open("Wanda", "/gateways");
    page.getByLabel("from a file").check();
    page.getByLabel("The rulebase as text")
        .fill(
            """
            rulebase "Depot"
              default verdict deny

            chapter a "All"
            rule web "Browsing"
              from zones: Depot
              from people: newcomer
              then: allow
            """);
    Locator names = page.getByLabel("Names that are unknown here");
    assertThat(names).containsText("2 names stand for nothing here");
    Locator depot = names.locator("li").filter(new Locator.FilterOptions().setHasText("Depot"));
    button(depot, "Make it").press("Enter");
    depot.getByLabel("The networks of Depot").fill("10.70.0.0/16");
    assertThat(depot.getByLabel("What this would do")).containsText("One record changes");
    depot.getByLabel("The networks of Depot").press("Enter");
    assertThat(names).containsText("1 name stands for nothing here");
    button(names, "Make it").press("Enter");
    button(names, "Make newcomer").press("Enter");
    assertThat(page.getByText("Saved: made person newcomer.")).isVisible();
    button(page, "Make the rulebase").press("Enter");
    assertThat(page.locator("#row-web")).containsText("Depot");
    assertThat(page).hasURL(Pattern.compile("/r/depot/$"));
    browsing.go(page, "/zones?what=Depot");
    assertThat(page.getByLabel("Zone Depot").and(page.locator("form"))).containsText("Browsing");
  }

  private static Locator address(Locator form) {
    return form.getByLabel("Address", new Locator.GetByLabelOptions().setExact(true));
  }

  @Test
  void whoLeftTheDirectoryWaitsWithWhatThatDoesAndIsTaken() throws Exception {
    try (DirectoryStandIn directory = new DirectoryStandIn(0)) {
      Page page = browsing.open("Wanda", "/sources");
      page.getByLabel("Sources").getByText("Saltmere directory").click();
      Locator form = page.getByLabel("Set up Saltmere directory");
      address(form).fill("ldap://127.0.0.1:" + directory.port());
      button(form, "Try it").press("Enter");
      assertThat(form).containsText("aksel.cray, Aksel Cray, in Crew of Saltmere Rose");
      address(form).press("Enter");
      assertThat(page.getByText("Saved: changed source Saltmere directory.")).isVisible();
      button(page, "Read it now").press("Enter");
      Locator now = page.getByLabel("Saltmere directory now");
      assertThat(now).containsText("4 changes wait for you to look");
      assertThat(now).containsText("person casper.wickham: gone");
      assertThat(now.getByLabel("What this would do")).containsText("of 3 rulebases");
      button(page, "Use it").press("Enter");
      assertThat(now).containsText("as it was at");
      browsing.go(page, "/directory?find=casper.wickham");
      assertThat(page.getByText(Pattern.compile("^0 of 240 people"))).isVisible();
      button(page, "Undo: took what Saltmere directory has now").press("Enter");
      assertThat(page.getByText("Casper Wickham")).isVisible();
      assertThat(page.getByText("casper.wickham · Saltmere directory")).isVisible();
    }
  }

  @Test
  void everythingGoesOutAsOneFileAndComesInOnAnEmptyServer() {
    Page page = browsing.open("Wanda", "/gateways");
    Path archive =
        page.waitForDownload(() -> page.getByText("Save everything as an archive").press("Enter"))
            .path();
    demo.clear();
    browsing.go(page, "/");
    assertThat(page.getByText("Nothing is here yet.")).isVisible();
    page.getByLabel("An archive").setInputFiles(archive);
    assertThat(page.getByText("Saltmere Ferries")).isVisible();
    assertThat(page.locator("main").getByText("Northquay terminal").first()).isVisible();
  }

  @Test
  void twoSharedSetsThatHoldTheSameAreFoundAndMerged() {
    Page page = browsing.open("Wanda", "/lists?what=host");
    assertThat(page.getByLabel("Found").getByText("booking.saltmere.example")).isVisible();
    browsing.go(page, "/sets?find=name");
    button(page, "New shared set").press("Enter");
    Locator form = page.getByLabel("New shared set").and(page.locator("form"));
    form.getByLabel("Name").fill("Twin of name servers");
    Locator adding = form.getByLabel("Add a network");
    for (String address : List.of("192.0.2.10", "192.0.2.11", "2001:db8:70::10")) {
      adding.fill(address);
      adding.press("Enter");
      assertThat(form.getByLabel("take away " + address)).isVisible();
    }
    assertThat(form.getByLabel("What this would do")).containsText("One record changes");
    button(form, "Save").press("Enter");
    assertThat(page.getByText("Saved: made shared set Twin of name servers.")).isVisible();
    browsing.go(page, "/sets?find=name");
    assertThat(page.getByText("Shared by all gateways · 2")).isVisible();
    page.getByText("Twin of name servers", new Page.GetByTextOptions().setExact(true))
        .first()
        .click();
    Locator twin = page.getByLabel("Shared set Twin of name servers");
    assertThat(twin).containsText("It holds the same as Name servers.");
    assertThat(twin).containsText("No rule and no set names it.");
    twin.getByLabel("Merge it into").selectOption("Name servers");
    assertThat(twin.getByLabel("What this would do")).containsText("nothing is different");
    button(twin, "Merge, as told above").press("Enter");
    assertThat(page.getByText("Saved: merged set Twin of name servers into Name servers."))
        .isVisible();
    assertThat(page.getByText("Twin of name servers", new Page.GetByTextOptions().setExact(true)))
        .hasCount(0);
  }

  @Test
  void aPersonWhoLeavesIsRemovedOnceItIsReadWhatThatDoes() {
    Page page = browsing.open("Wanda", "/directory?find=livia");
    page.getByLabel("People").getByText("Livia Quist").click();
    button(page, "Remove").press("Enter");
    assertThat(page.getByLabel("What this would do")).containsText("livia.quist");
    button(page, "Remove, as told above").press("Enter");
    assertThat(page.getByText("Saved: removed livia.quist.")).isVisible();
    assertThat(page.getByText(Pattern.compile("of 238 people"))).isVisible();
  }

  @Test
  void anApplicationOfOnesOwnIsWrittenAndUsedInARule() {
    Page page = browsing.open("Wanda", "/catalogue");
    assertThat(page.getByText("323 of 323 applications")).isVisible();
    button(page, "New application").press("Enter");
    Locator form = page.getByLabel("New application").and(page.locator("form"));
    form.getByLabel("Name").fill("Berth planner");
    form.getByLabel("Category").fill("harbour");
    form.getByLabel("Usual ports").fill("tcp/8443");
    form.getByLabel("Add to rides on").fill("tls");
    form.getByLabel("Add to rides on").press("Enter");
    assertThat(form.getByLabel("take TLS away")).isVisible();
    form.getByLabel("Features").fill("view, change");
    assertThat(form.getByLabel("What this would do")).containsText("One record changes");
    form.getByLabel("Features").press("Enter");
    Locator lens = page.getByLabel("Berth planner").and(page.locator("aside"));
    assertThat(lens).containsText("Your own, beside those of the edition.");
    browsing.go(page, "/");
    Locator probe = page.getByLabel("Probe", new Page.GetByLabelOptions().setExact(true));
    probe.fill("deny to Internet using Berth planner/change");
    probe.press("Enter");
    assertThat(page.getByLabel("New rule", new Page.GetByLabelOptions().setExact(true)))
        .isVisible();
    page.keyboard().press("Control+Enter");
    assertThat(page.locator("#stack")).containsText("Berth planner/change");
  }

  @Test
  void aChangeOnAnOldVersionIsRefusedAndNothingTypedIsLost() {
    Page one = browsing.open("Wanda", "/zones?what=Partners");
    Page other = browsing.open("Bo", "/zones?what=Partners");
    one.getByLabel("Note").fill("Hers");
    other.getByLabel("Note").fill("His");
    assertThat(one.getByLabel("What this would do")).isVisible();
    assertThat(other.getByLabel("What this would do")).isVisible();
    button(one, "Save").press("Enter");
    assertThat(one.getByText("Saved: changed zone Partners.")).isVisible();
    button(other, "Save").press("Enter");
    assertThat(other.getByRole(AriaRole.ALERT)).containsText(Pattern.compile("Wanda changed zone"));
    assertThat(other.getByLabel("Note")).hasValue("His");
  }
}
