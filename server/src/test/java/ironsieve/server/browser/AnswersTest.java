package ironsieve.server.browser;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static ironsieve.server.browser.Browsing.button;
import static ironsieve.server.browser.Browsing.keys;
import static ironsieve.server.browser.Browsing.lens;
import static ironsieve.server.browser.Browsing.place;
import static ironsieve.server.browser.Browsing.row;
import static ironsieve.server.browser.Browsing.said;
import static org.junit.jupiter.api.Assertions.assertEquals;

import com.microsoft.playwright.Download;
import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import io.quarkus.test.junit.QuarkusTest;
import java.util.List;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;

/** Questions people ask of a rulebase, and what they do with the answers, in the browser. */
@QuarkusTest
class AnswersTest extends WithBrowser {

  @Test
  void whatOnePersonReachesIsFollowedToTheRuleThatLetsThem() {
    Page page = browsing.open("Wanda", "/");
    keys(page, "Control+k");
    page.keyboard().type("livia.q");
    assertThat(page.getByText("person livia.quist")).isVisible();
    page.keyboard().press("Enter");
    assertThat(page.getByLabel("Who")).hasValue("livia.quist");
    page.getByLabel("uses what").fill("category AI assistants");
    page.getByLabel("uses what").press("Enter");
    Locator inside = page.getByRole(AriaRole.REGION, region("One by one"));
    inside.getByRole(AriaRole.BUTTON).filter(named("Ghostquill")).click();
    assertThat(page.getByText("livia.quist, using Ghostquill: blocked")).isVisible();
    page.reload();
    assertThat(page.getByText("livia.quist, using Ghostquill: blocked")).isVisible();
    page.getByLabel("uses what").fill("");
    Locator blocked = page.getByRole(AriaRole.REGION, region("blocked"));
    assertThat(blocked).containsText("Ghostquill");
    assertThat(blocked).containsText("by rule 47 Company data stays out of assistants");
    page.getByLabel("uses what").fill("Chatterbay/upload");
    page.getByLabel("uses what").press("Enter");
    Locator cell = page.getByRole(AriaRole.REGION, region("livia.quist, using Chatterbay/upload"));
    assertThat(cell).containsText("It depends on the device");
    assertThat(cell).containsText("by rule 49 Staff browse");
    button(page, "Try it").first().click();
    assertThat(row(page, "br-staff")).hasAttribute("data-standing", "catch");
  }

  @Test
  void theMapOfReachPutsTogetherWhoReachesTheSame() {
    Page page = browsing.open("Wanda", "/reach");
    Locator rows = page.getByLabel("Reach of groups by categories").locator("tbody tr");
    Locator developers = rows.filter(named("Developers"));
    // From the offices developers stand out by their tools alone; everybody else's row is shared.
    assertThat(developers.locator("button:not(:has(.opacity-40))")).hasCount(1);
    assertThat(rows.first()).containsText("more");
    int together = rows.count();
    page.getByLabel("who reaches the same, together").uncheck();
    assertThat(rows.filter(named("Catering crew"))).hasCount(1);
    assertThat(rows).not().hasCount(together);
    assertThat(rows.filter(named("Interns")).getByTitle("nobody is in it").first()).hasText("–");
    Locator unknown = rows.filter(named("unidentified"));
    assertThat(unknown.locator(".figure").first()).isHidden();
    page.keyboard().press("#");
    assertThat(unknown.locator(".figure").first()).hasText("100");
    place(page, "Rulebase");
    assertThat(page.getByText(Pattern.compile("\\d+ let through · \\d+ stop")).first()).isVisible();
    page.keyboard().press("#");
    place(page, "Reach");
    assertThat(unknown.locator(".figure").first()).isHidden();
    developers.getByRole(AriaRole.BUTTON).nth(3).click();
    assertThat(page.getByText("group Developers, using category developer tools")).isVisible();
  }

  private static Locator.FilterOptions named(String text) {
    return new Locator.FilterOptions().setHasText(text);
  }

  private static Page.GetByRoleOptions region(String name) {
    return new Page.GetByRoleOptions().setName(name);
  }

  @Test
  void whatIsDangerousNeededByNobodyAndLetThroughAllTheSameIsFoundInTheCatalogue() {
    Page page = browsing.open("Wanda", "/catalogue");
    Locator map = page.getByLabel("Applications by exposure and work value");
    // The last field: severe exposure, no work value.
    Locator field = map.getByRole(AriaRole.BUTTON).last();
    assertThat(field).hasText("16, 1 let through");
    field.click();
    Locator shown = page.getByLabel("What is shown");
    assertThat(shown).containsText("16 of 323");
    page.getByLabel("Which applications").selectOption("only those let through");
    assertThat(shown).containsText("1 of 323");
    page.getByRole(AriaRole.LISTITEM).getByRole(AriaRole.BUTTON).click();
    Locator users =
        page.getByRole(
            AriaRole.REGION,
            new Page.GetByRoleOptions().setName("Who can use it from Offices to Internet"));
    assertThat(users).containsText("rule 49 Staff browse");
    users.getByLabel(Pattern.compile("^try it: from Offices")).first().click();
    assertThat(row(page, "br-staff")).hasAttribute("data-standing", "catch");
    page.goBack();
    button(page, "rule 49 Staff browse").first().click();
    assertThat(lens(page)).containsText("Rule 49");
  }

  @Test
  void anEditionIsReadByItsImpactAndThenAdopted() {
    Page page = browsing.open("Wanda", "/catalogue");
    button(page, "What would edition 42 change?").click();
    Locator strip = page.getByRole(AriaRole.REGION, region("Editions"));
    assertThat(strip).containsText("Fenwick Whiteboard new: office documents");
    assertThat(strip).containsText("Askaway moved: category developer tools → AI assistants");
    assertThat(strip).containsText("application Fenwick Whiteboard");
    button(page, "Adopt edition 42").click();
    assertThat(strip).containsText("Edition 42 is in force");
    assertThat(page.getByText("Boards that several people draw on.")).isVisible();
    browsing.go(
        page,
        "/?probe=from Offices as livia.quist on company laptop, healthy to Internet using Fenwick"
            + " Whiteboard/draw at tue 10:00");
    assertThat(row(page, "wk-fen")).hasAttribute("data-standing", "catch");
  }

  @Test
  void aFindingIsAcceptedWithAReasonAndComesBackWhenTheRuleChanges() {
    Page page = browsing.open("Wanda", "/?rule=br-intern");
    lens(page).getByText("What that means").click();
    assertThat(lens(page)).containsText("the rule does nothing");
    button(page, "Accept it …").click();
    page.getByLabel("Why this may stay").fill("they are back in June");
    page.keyboard().press("Enter");
    assertThat(lens(page)).containsText("empty, accepted");
    assertThat(lens(page)).containsText("Accepted by Wanda: they are back in June");
    assertThat(row(page, "br-intern").getByLabel("empty")).hasCount(0);

    page.locator("#stack").focus();
    page.keyboard().press("Enter");
    assertThat(page.getByLabel("Add a zone")).isFocused();
    page.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("Then")).click();
    page.getByLabel("not logged").check();
    button(page, "Save").click();
    assertThat(lens(page)).not().containsText("accepted");
    assertThat(row(page, "br-intern").getByLabel("empty").first()).isVisible();
  }

  @Test
  void aSheetIsChangedOnceItsImpactOnItsRulesIsRead() {
    Page page = browsing.open("Wanda", "/shared");
    button(page, "Add a line").click();
    page.getByLabel("Line 6 matches").fill("category games");
    page.getByLabel("Outcome of line 6").selectOption("stop Not on this network");
    assertThat(page.getByText("1 group of connections would get another verdict.")).isVisible();
    assertThat(page.locator("[data-impact]")).containsText("application category games");
    button(page, "Save the sheet").click();
    assertThat(page.locator("[data-impact]")).hasCount(0);
    browsing.go(page, "/?probe=from Guest wifi to Internet using Marlow Games at tue 10:00");
    assertThat(row(page, "wf-guest")).hasAttribute("data-standing", "catch");
    assertThat(page.getByLabel("How it unfolds")).containsText("stop Not on this network");
    assertThat(page.getByLabel("How it unfolds")).containsText("had passed by then");
  }

  @Test
  void whatTheReviewHasNoStepsLeftForIsSaidAndFoundWithMore() {
    Page page = browsing.open("Wanda", "/");
    Locator steps = page.getByLabel("Steps for each question");
    Locator undetermined =
        lens(page)
            .locator("summary")
            .filter(new Locator.FilterOptions().setHasText("undetermined"));
    assertThat(undetermined).hasCount(0);
    steps.fill("1");
    page.getByText("Review with 1").click();
    assertThat(undetermined).hasCount(1);
    steps.fill("200000");
    steps.press("Enter");
    assertThat(undetermined).hasCount(0);
    assertThat(steps).hasValue("200000");
  }

  @Test
  void aBlindRuleSeesOnceContentIsOpenedForIt() {
    Page page = browsing.open("Wanda", "/?rule=li-ai");
    assertThat(lens(page)).containsText("stays encrypted");
    lens(page).getByText("Remedy: Open the content there").click();
    assertThat(lens(page).locator("[data-impact]")).containsText("Parley/upload");
    button(page, "Apply").click();
    assertThat(lens(page)).not().containsText("stays encrypted");
    browsing.go(page, "/shared");
    assertThat(page.getByText("for-li-ai")).isVisible();
  }

  @Test
  void aProbesAnswerSaysWhyAndWhatComesTooLateAndBecomesARule() {
    Page page =
        browsing.open(
            "Wanda",
            "/?probe=from+Offices+as+livia.quist+to+Internet+using+Chatterbay+at+tue+10:00");
    assertThat(page.getByLabel("Why")).containsText("Rule 49 Staff browse catches it (allow");
    assertThat(page.getByLabel("Too late")).containsText("match");
    button(page, "Write a rule from this").click();
    Locator draft = page.getByRole(AriaRole.REGION, region("New rule"));
    assertThat(draft).containsText("Chatterbay");
    page.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("Name and note")).click();
    page.getByLabel("Name of the rule").fill("Livia stays off it");
    button(page, "Save").click();
    // It stands above what caught the probe, and so catches it now.
    assertThat(page.getByLabel("Why")).containsText("Rule 49 Livia stays off it catches it (deny)");
    assertThat(page.getByLabel("Too late")).containsText("rule 50 Staff browse");
  }

  @Test
  void whatOnePersonReachesBetweenAllZonesIsToldInGroups() {
    Page page = browsing.open("Wanda", "/reach?who=livia.quist&from=any&to=any");
    Locator all = page.getByRole(AriaRole.REGION, region("Between all zones"));
    Locator groups = all.locator("ul > li").filter(named("allowed:"));
    // Most can be used on the way to the Internet; where nothing can be, one line says so.
    assertThat(all.locator("> ul > li").first()).containsText("to Internet");
    assertThat(groups.first()).containsText("depends:");
    assertThat(all.locator("> ul > li").last()).containsText("everything blocked");
    all.getByRole(AriaRole.BUTTON).filter(named("from Offices to Internet")).click();
    assertThat(page.getByRole(AriaRole.REGION, region("blocked"))).containsText("Ghostquill");
  }

  @Test
  void theCatalogueSaysWhetherFeaturesAreSeenWhereTheyAreUsed() {
    Page page = browsing.open("Wanda", "/catalogue?rule=Chatterbay&from=Offices&to=Internet");
    Locator sight = page.getByLabel("Whether its features are seen");
    assertThat(sight)
        .containsText("in 86 % from Offices to Internet; elsewhere it stays encrypted");
    browsing.go(page, "/catalogue?rule=Chatterbay&from=Crew+wifi&to=Internet");
    assertThat(sight).containsText("not seen from Crew wifi to Internet");
  }

  @Test
  void aRuleIsWrittenFromARecordedConnection() {
    Page page = browsing.open("Wanda", "/traffic");
    button(page, "Where it falls").click();
    // What is done inside an encrypted connection no rule here could see, so a plain one is taken.
    page.getByLabel("What fell where")
        .getByRole(AriaRole.BUTTON)
        .filter(named("Resolvers for guests"))
        .click();
    page.getByText("Write a rule", new Page.GetByTextOptions().setExact(true)).first().click();
    Locator draft = page.getByRole(AriaRole.REGION, region("New rule"));
    assertThat(draft).isVisible();
    // It is written once: who comes back to the probe finds no second draft.
    assertThat(page).not().hasURL(Pattern.compile("draft="));
    page.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("Name and note")).click();
    page.getByLabel("Name of the rule").fill("Seen on the tape");
    button(page, "Save").click();
    assertThat(page.getByLabel("Why")).containsText("Seen on the tape catches it");
  }

  @Test
  void aFilterIsWrittenFromWhatItOffers() {
    Page page = browsing.open("Wanda", "/");
    keys(page, "/");
    Locator offered = page.locator("#filter-choices option");
    assertThat(offered.filter(named("recorded traffic"))).hasCount(1);
    page.keyboard().type("finding:sha");
    assertThat(offered).hasCount(2);
    assertEquals("finding:shadowed", offered.first().getAttribute("value"));
    page.getByLabel("Show", new Page.GetByLabelOptions().setExact(true)).fill("from Off");
    assertThat(page.locator("#filter-choices option[value='from Offices']")).hasCount(1);
  }

  @Test
  void aTimeIsPickedFromAWeek() {
    Page page = browsing.open("Wanda", "/?rule=br-press");
    assertThat(lens(page)).containsText("Rule 50");
    keys(page, "Enter");
    page.getByRole(AriaRole.TAB).filter(named("When · time")).click();
    page.getByRole(AriaRole.GROUP)
        .getByText("sat", new Locator.GetByTextOptions().setExact(true))
        .click();
    page.getByLabel("until").fill("20:30");
    button(page, "Add mon-sat 08:00-20:30").click();
    button(page, "Save").click();
    assertThat(row(page, "br-press")).containsText("mon-sat 08:00-20:30");
  }

  @Test
  void anythingThatCanBeDoneIsFoundByNameWithItsKey() {
    Page page = browsing.open("Wanda", "/");
    keys(page, "Control+k");
    page.keyboard().type("new rule");
    Locator palette = page.getByRole(AriaRole.DIALOG);
    assertThat(palette.getByText("do New rule above")).isVisible();
    palette.getByText("New rule", new Locator.GetByTextOptions().setExact(false)).first().click();
    assertThat(page.getByRole(AriaRole.REGION, region("New rule"))).isVisible();
  }

  @Test
  void aFileIsSavedFromThePaletteAndThePageStays() {
    Page page = browsing.open("Wanda", "/?rule=br-chat");
    keys(page, "Control+k");
    page.keyboard().type("rulebase as text");
    Download saved = page.waitForDownload(() -> page.keyboard().press("Enter"));
    assertEquals("main-gateway.rules", saved.suggestedFilename());
    assertThat(lens(page)).containsText("Rule 51");
  }

  @Test
  void pagesAreLinksThatOpenInAWindowOfTheirOwn() {
    Page page = browsing.open("Wanda", "/?rule=br-chat");
    Locator link = page.getByLabel("Places").getByText("Traffic");
    assertThat(link).hasAttribute("href", "/r/main-gateway/traffic");
    Page other =
        page.context()
            .waitForPage(
                () ->
                    link.click(
                        new Locator.ClickOptions()
                            .setModifiers(
                                List.of(
                                    com.microsoft.playwright.options.KeyboardModifier.CONTROL))));
    assertThat(other.getByText("rules caught none.")).isVisible();
    assertThat(lens(page)).containsText("Chatterbay");
    other.close();
  }

  @Test
  void anEarlierRevisionIsMadeCurrentOnceItsImpactIsRead() {
    Page page = browsing.open("Wanda", "/?rule=br-chat");
    page.getByLabel("Reason for changes").fill("CHG-4711");
    keys(page, "x");
    assertThat(said(page)).containsText("off");
    place(page, "History");
    assertThat(page.getByLabel("Revisions")).containsText("Reason: CHG-4711");
    button(page, "Make revision 0 current …").click();
    Locator restore = page.getByRole(AriaRole.REGION, region("Make revision 0 current"));
    assertThat(restore).containsText("would get another verdict");
    button(page, "Make it current").click();
    assertThat(page.getByLabel("Revisions")).containsText("made revision 0 current again");
    Page again = browsing.open("Wanda", "/?rule=br-chat");
    assertThat(lens(again)).containsText("Chatterbay");
    assertThat(row(again, "br-chat")).not().containsText("off");
  }

  @Test
  void singleKeysCanBeSwitchedOff() {
    Page page = browsing.open("Wanda", "/?rule=br-chat");
    keys(page, "?");
    page.getByLabel("Keys that are a single character work").uncheck();
    button(page, "Close").click();
    keys(page, "x", "j", "n");
    assertThat(lens(page)).containsText("Chatterbay");
    assertThat(page.getByRole(AriaRole.REGION, region("New rule"))).hasCount(0);
    assertThat(row(page, "br-chat")).not().containsText("off");
    keys(page, "ArrowDown");
    assertThat(lens(page)).not().containsText("Rule 51");
    keys(page, "Control+k");
    page.keyboard().type("single-key");
    page.getByText("do Switch single-key shortcuts on").click();
    keys(page, "n");
    assertThat(page.getByRole(AriaRole.REGION, region("New rule"))).isVisible();
  }
}
