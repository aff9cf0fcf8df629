package ironsieve.server.browser;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static ironsieve.server.browser.Browsing.lens;
import static ironsieve.server.browser.Browsing.row;
import static org.assertj.core.api.Assertions.assertThat;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.BoundingBox;
import com.microsoft.playwright.options.ColorScheme;
import io.quarkus.test.junit.QuarkusTest;
import java.nio.file.Path;
import java.util.List;
import java.util.function.Consumer;
import org.assertj.core.api.SoftAssertions;
import org.junit.jupiter.api.Test;

/**
 * Every view in both themes: no fault for assistive technology, no horizontal scroll bar at 1280
 * pixels or at twice the size.
 */
@QuarkusTest
class EveryViewTest extends WithBrowser {

  private static final String PROBE =
      "from Offices as livia.quist on company laptop to Internet using Chatterbay/upload at 2026-11-24 09:30";

  // Run by hand: the Java wrapper of the same library takes twenty times as long on these pages.
  private static final Path AXE = Path.of("../web/node_modules/axe-core/axe.min.js");
  private static final String FAULTS =
      "rules => axe.run({resultTypes: ['violations'], ...(rules.length > 0 && {runOnly: rules})})"
          + ".then(found => found.violations.map(v => v.id + ': '"
          + " + v.nodes.slice(0, 3).map(n => n.html + ' ' + n.failureSummary).join(' | ')))";

  private record View(String name, String path, Consumer<Page> ready) {}

  private static final List<View> VIEWS =
      List.of(
          new View(
              "rulebase", "/", page -> assertThat(lens(page)).containsText("The review found")),
          new View(
              "probe",
              "/?probe=" + PROBE.replace(" ", "%20"),
              page -> assertThat(row(page, "br-staff")).hasAttribute("data-standing", "catch")),
          new View(
              "finding",
              "/?rule=bc-all",
              page -> assertThat(lens(page)).containsText("rules 24, 25 and 26 together")),
          new View("editor", "/?rule=bk-export", EveryViewTest::openEditor),
          new View(
              "promises",
              "/promises",
              page -> assertThat(page.getByText("2 broken").first()).isVisible()),
          new View(
              "sets",
              "/sets?find=DMZ%20servers",
              page -> assertThat(page.getByLabel("take away set Mail relays")).isVisible()),
          new View(
              "reach",
              "/reach",
              page -> assertThat(page.getByLabel("Reach of groups by categories")).isVisible()),
          new View(
              "shared",
              "/shared",
              page -> assertThat(page.getByLabel("Sheet Guest web")).isVisible()),
          new View("traffic", "/traffic", EveryViewTest::consistsShown),
          new View("fall", "/traffic", EveryViewTest::fallShown),
          new View("unrecognised", "/traffic", EveryViewTest::unrecognisedShown),
          new View("filter", "/?find=match:Chatterbay", EveryViewTest::chooseShown),
          new View("edition", "/catalogue", EveryViewTest::openEdition),
          new View(
              "catalogue",
              "/catalogue?rule=Fenwick%20Share",
              page -> assertThat(page.getByText("more groups").first()).isVisible()),
          new View("gateways", "/gateways", EveryViewTest::openForeign),
          new View("zones", "/zones?what=Crew%20wifi", EveryViewTest::openZone),
          new View("directory", "/directory?find=quist", EveryViewTest::openPerson),
          new View(
              "lists",
              "/lists?what=host",
              page -> assertThat(page.getByText("booking.saltmere.example")).isVisible()),
          new View("sources", "/sources?what=Saltmere%20directory", EveryViewTest::openSource),
          new View(
              "jobs",
              "/jobs",
              page -> assertThat(page.getByText("since the server was started")).isVisible()),
          new View(
              "releases",
              "/releases",
              page -> assertThat(page.getByText("Nothing is released yet")).isVisible()),
          new View("tour", "/?tour", EveryViewTest::openTour),
          new View("keys", "/", EveryViewTest::openKeys),
          new View("names", "/", EveryViewTest::openNames),
          new View("weighed", "/?rule=bk-export", EveryViewTest::openWeighed),
          // The last ones, for they edit.
          new View("done", "/?rule=bk-export", EveryViewTest::openDone),
          new View("history", "/?rule=br-chat", EveryViewTest::compareRevisions));

  /** What these rules of the library find wrong with the page, or all that are usual if none. */
  private static List<?> faults(Page page, String... rules) {
    if (!(boolean) page.evaluate("'axe' in window")) {
      page.addScriptTag(new Page.AddScriptTagOptions().setPath(AXE));
    }
    return (List<?>) page.evaluate(FAULTS, List.of(rules));
  }

  private static void openEditor(Page page) {
    assertThat(row(page, "bk-export")).hasAttribute("aria-selected", "true");
    page.locator("#stack").focus();
    page.keyboard().press("Enter");
    assertThat(page.getByLabel("Add a zone")).isFocused();
    assertThat(page.getByText("Head office and booking office")).hasCount(0);
  }

  private static void consistsShown(Page page) {
    // Which view one looks at is remembered.
    Browsing.button(page, "What it is").click();
    assertThat(page.getByLabel("Application")).isVisible();
  }

  private static void fallShown(Page page) {
    Browsing.button(page, "Where it falls").click();
    assertThat(page.getByLabel("What fell where")).isVisible();
  }

  private static void unrecognisedShown(Page page) {
    Browsing.button(page, "Not recognised").click();
    page.getByLabel("Not recognised", new Page.GetByLabelOptions().setExact(true))
        .getByRole(com.microsoft.playwright.options.AriaRole.BUTTON)
        .first()
        .click();
    assertThat(page.getByText("What it showed")).isVisible();
    assertThat(page.getByText("+ client bytes").or(page.getByText("+ server name")).first())
        .isVisible();
  }

  private static void chooseShown(Page page) {
    Browsing.button(page, "Choose all shown").click();
    page.getByLabel("Do", new Page.GetByLabelOptions().setExact(true)).selectOption("owner");
    page.getByLabel("Owner", new Page.GetByLabelOptions().setExact(true)).fill("Odette Marlin");
    assertThat(page.getByText("No connection would get another verdict.")).isVisible();
  }

  private static void openForeign(Page page) {
    page.getByLabel("from a file").check();
    page.getByLabel("The rulebase as text")
        .fill(
            """
            rulebase "Aldermoor annex"
              default verdict deny

            chapter work "At work"
            rule web "Browsing"
              from zones: Office; Terminal
              from people: group Clerks
              to zones: Internet
              using services: tcp/443
              then: allow
            """);
    assertThat(page.getByText("3 names stand for nothing here")).isVisible();
  }

  private static void openZone(Page page) {
    page.getByLabel("Networks").fill("10.40.0.0/16, 2001:db8:40::/48, 10.20.77.0/24");
    assertThat(page.getByLabel("What this would do")).containsText("would notice");
  }

  private static void openSource(Page page) {
    assertThat(
            page.getByLabel("Set up Saltmere directory")
                .getByLabel("Address", new Locator.GetByLabelOptions().setExact(true)))
        .hasValue("ldap://127.0.0.1:7341");
  }

  private static void openPerson(Page page) {
    page.getByLabel("People").getByText("Livia Quist").click();
    Browsing.button(page, "Remove").click();
    assertThat(page.getByLabel("What this would do")).containsText("livia.quist");
  }

  private static void openTour(Page page) {
    page.evaluate("localStorage.removeItem('tour')");
    page.reload();
    assertThat(page.getByText("Step 1 of 4")).isVisible();
  }

  private static void openKeys(Page page) {
    assertThat(lens(page)).containsText("The review found");
    Browsing.keys(page, "?");
    assertThat(page.getByText("Keys here")).isVisible();
  }

  private static void openNames(Page page) {
    assertThat(lens(page)).containsText("The review found");
    page.keyboard().press("Control+k");
    page.keyboard().type("hull");
    assertThat(page.getByText("application Hull Identity")).isVisible();
  }

  private static void openWeighed(Page page) {
    assertThat(lens(page)).containsText("shadowed");
    Browsing.keys(page, "w");
    Locator would = page.getByLabel("What the keys would do");
    assertThat(would).containsText("kept again");
    page.evaluate(
        "const text = new DataTransfer();"
            + " text.setData('text/plain', 'rule pasted\\n  from zones: Offices\\n  then: deny');"
            + " document.getElementById('stack').dispatchEvent("
            + "new ClipboardEvent('paste', {clipboardData: text, bubbles: true}))");
    assertThat(page.getByLabel("Rules to be pasted")).containsText("another verdict");
  }

  private static void openDone(Page page) {
    assertThat(lens(page)).containsText("shadowed");
    Browsing.keys(page, "Alt+ArrowUp", "e");
    assertThat(page.getByLabel("What the last edit did")).containsText("Kept again");
  }

  private static void compareRevisions(Page page) {
    assertThat(lens(page)).containsText("Rule 51");
    Browsing.keys(page, "Alt+ArrowUp", "Alt+ArrowUp");
    assertThat(lens(page)).containsText("Rule 49");
    Browsing.place(page, "History");
    assertThat(page.getByLabel("In effect")).containsText("another verdict");
  }

  private static void openEdition(Page page) {
    Browsing.button(page, "What would edition 42 change?").click();
    assertThat(page.getByText("would get another verdict").first()).isVisible();
  }

  @Test
  void workGoesOnByKeyboardWhenMagnifiedToTwiceTheSize() {
    Page page = browsing.magnified("Wanda Okafor");
    browsing.go(page, "/?rule=bk-export");
    assertThat(lens(page)).containsText("shadowed");
    // Three rules and the lens are on the screen at once.
    double rule = row(page, "bk-export").boundingBox().height;
    BoundingBox stack = page.locator("#stack").boundingBox();
    assertThat(stack.height).isGreaterThanOrEqualTo(3 * rule);
    BoundingBox beside = lens(page).boundingBox();
    assertThat(beside.y).isGreaterThanOrEqualTo(stack.y + stack.height);
    assertThat(beside.y + beside.height).isLessThanOrEqualTo(401);
    assertThat(beside.height).isGreaterThan(70);
    page.locator("#stack").focus();
    page.keyboard().press("Alt+ArrowUp");
    assertThat(Browsing.said(page)).containsText("moved rule 13");
    assertThat(lens(page)).containsText("Rule 12");
    assertThat(lens(page)).not().containsText("This rule never matches");
    page.locator("#stack").focus();
    page.keyboard().press("Control+z");
    assertThat(Browsing.said(page)).containsText("undid");
  }

  @Test
  void aScreenReaderIsToldWhatTheRulesAndTheLensSay() {
    Page page = browsing.open("Wanda Okafor", "/?rule=br-press");
    assertThat(lens(page)).containsText("shadowed");
    assertThat(row(page, "br-press"))
        .matchesAriaSnapshot(
            """
            - 'row /rule 50 Press contacts post: Allow group Press contacts from Offices/ [selected]':
              - gridcell "move rule 50"
              - gridcell /Press contacts post/
              - gridcell "allow logged"
              - gridcell "0 % of what this rule matches is left to it no hits"
              - gridcell "shadowed"
            """);
    assertThat(lens(page))
        .matchesAriaSnapshot(
            """
            - complementary "Lens":
              - heading "Rule 50" [level=2]
              - heading "What it matches" [level=3]
              - heading "shadowed" [level=3]
              - paragraph: "/This rule never matches: rule 46 matches all of its connections first/"
              - button "rule 46 No games and films at work"
              - button /Try this witness from Offices .* caught by rule 46/
              - heading /What is left of it/ [level=3]
              - img "0 % of what this rule matches is left to it"
            """);
  }

  @Test
  void isAccessibleInBothThemesAndFitsAlsoAtTwiceTheSize() {
    Page page = browsing.withOwnScripts().window("Wanda Okafor", ColorScheme.LIGHT);
    Locator root = page.locator("html");
    SoftAssertions all = new SoftAssertions();
    for (View view : VIEWS) {
      page.emulateMedia(new Page.EmulateMediaOptions().setColorScheme(ColorScheme.LIGHT));
      browsing.go(page, view.path());
      view.ready().accept(page);
      all.assertThat(scrolls(page)).as(view.name()).isFalse();
      for (ColorScheme theme : List.of(ColorScheme.LIGHT, ColorScheme.DARK)) {
        // Who has chosen no theme gets the one the system asks for, while they work.
        page.emulateMedia(new Page.EmulateMediaOptions().setColorScheme(theme));
        assertThat(root).hasAttribute("data-theme", theme.name().toLowerCase());
        // A theme changes colours and nothing else.
        List<?> faults = theme == ColorScheme.LIGHT ? faults(page) : faults(page, "color-contrast");
        all.assertThat(faults).as(view.name() + " " + theme).isEmpty();
        Browsing.picture(page, view.name() + "-" + theme.name().toLowerCase());
      }
      // At twice the size half as much fits; what else could be wrong does not depend on it.
      page.setViewportSize(640, 400);
      all.assertThat(scrolls(page)).as(view.name() + " at twice the size").isFalse();
      all.assertThat(faults(page, "target-size")).as(view.name() + " at twice the size").isEmpty();
      page.setViewportSize(1280, 800);
    }
    all.assertAll();
  }

  private static boolean scrolls(Page page) {
    return (boolean) page.evaluate("document.documentElement.scrollWidth > window.innerWidth");
  }
}
