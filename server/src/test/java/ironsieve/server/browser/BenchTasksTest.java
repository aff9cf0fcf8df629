package ironsieve.server.browser;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static ironsieve.server.browser.Browsing.button;
import static ironsieve.server.browser.Browsing.lens;
import static ironsieve.server.browser.Browsing.place;
import static ironsieve.server.browser.Browsing.row;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import io.quarkus.test.junit.QuarkusTest;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;

/** Whole tasks of an engineer, on the demo company, in the browser. */
@QuarkusTest
class BenchTasksTest extends WithBrowser {

  @Test
  void aShadowedBlockIsFoundUnderstoodMovedUpAndTheMoveTakenBack() {
    Page page = browsing.open("Wanda", "/");
    assertThat(lens(page)).containsText("The review found");
    lens(page).getByText("rule 51 No uploads in Chatterbay").first().click();
    assertThat(lens(page))
        .containsText("This rule never matches: rule 49 matches all of its connections first.");

    assertThat(row(page, "br-staff")).containsText("takes 96 % of rule 51");
    row(page, "br-staff").hover();
    assertThat(row(page, "br-chat")).containsText("loses 96 % to rule 49");

    lens(page).getByText("Try this witness").first().click();
    assertThat(row(page, "br-staff")).hasAttribute("data-standing", "catch");
    assertThat(row(page, "br-staff")).containsText("allow");
    assertThat(row(page, "li-ai").locator("[data-reason]"))
        .containsText("application is Chatterbay/upload");

    page.locator("#stack").focus();
    page.keyboard().press("Alt+ArrowUp");
    assertThat(lens(page).getByRole(AriaRole.HEADING).first()).hasText("Rule 50");
    page.keyboard().press("Alt+ArrowUp");
    assertThat(lens(page).getByRole(AriaRole.HEADING).first()).hasText("Rule 49");
    assertThat(lens(page)).not().containsText("shadowed");
    assertThat(row(page, "br-chat")).hasAttribute("data-standing", "catch");
    assertThat(row(page, "br-chat")).containsText("deny");

    page.keyboard().press("Control+z");
    page.keyboard().press("Control+z");
    assertThat(lens(page).getByRole(AriaRole.HEADING).first()).hasText("Rule 51");
    assertThat(lens(page)).containsText("This rule never matches");
    assertThat(row(page, "br-staff")).hasAttribute("data-standing", "catch");
  }

  @Test
  void aRemedyIsReadByItsImpactAndThenDone() {
    Page page = browsing.open("Wanda", "/?rule=bk-export");
    lens(page).getByText("Remedy: Move it above rule 12").click();
    assertThat(lens(page))
        .containsText("1 group of connections would get another verdict. 1 finding ends.");
    assertThat(lens(page).locator("[data-impact]")).containsText("group Booking agents");
    lens(page).getByText("try one").click();
    assertThat(row(page, "bk-agents")).hasAttribute("data-standing", "catch");
    button(page, "Apply").click();
    assertThat(lens(page).getByRole(AriaRole.HEADING).first()).hasText("Rule 12");
    assertThat(lens(page)).not().containsText("shadowed");
    assertThat(row(page, "bk-export")).hasAttribute("data-standing", "catch");
    assertThat(lens(page)).containsText("Wanda remedied rule 13 Exports only by supervisors");
  }

  @Test
  void theImpactOfAnEditShowsBeforeItIsKept() {
    Page page = browsing.open("Wanda", "/?rule=wf-guest");
    assertThat(row(page, "wf-guest")).hasAttribute("aria-selected", "true");
    page.locator("#stack").focus();
    page.keyboard().press("Enter");
    Locator editor = page.getByLabel(Pattern.compile("^Editing rule"));
    assertThat(editor).containsText("Nothing is changed yet.");
    editor
        .getByRole(AriaRole.TAB, new Locator.GetByRoleOptions().setName(Pattern.compile("^Then")))
        .click();
    editor.getByLabel("deny").check();
    assertThat(editor.locator("[data-impact]")).containsText("allow");
    assertThat(editor.locator("[data-impact]")).containsText("from Guest wifi to Internet");
    page.keyboard().press("Escape");
    assertThat(row(page, "wf-guest")).containsText("allow");
  }

  @Test
  void aBrokenPromiseIsNamedAndKeptAgainOnceItsRuleIsPutRight() {
    Page page = browsing.open("Wanda", "/promises");
    assertThat(page.getByText("2 broken").first()).isVisible();
    page.getByText("Try it").first().click();
    assertThat(page.locator("[data-standing=catch]")).containsText("Agents at work");

    browsing.go(page, "/?rule=bk-export");
    lens(page).getByText("Remedy: Move it above rule 12").click();
    button(page, "Apply").click();
    assertThat(page.getByText("1 broken")).isVisible();

    page.keyboard().press("p");
    page.keyboard()
        .type("from Offices as livia.quist to Internet using Isobar at 2026-12-01 10:00");
    page.keyboard().press("Enter");
    assertThat(page.locator("[data-standing=catch]")).containsText("Staff browse");
    button(page, "Promise").click();
    page.getByLabel("Name of the promise").fill("The office sees the weather");
    page.keyboard().press("Enter");
    assertThat(page.getByLabel("What happened")).containsText("The office sees the weather");
    browsing.go(page, "/?rule=br-staff");
    page.locator("#stack").focus();
    page.keyboard().press("Enter");
    Locator editor = page.getByLabel(Pattern.compile("^Editing rule"));
    editor
        .getByRole(AriaRole.TAB, new Locator.GetByRoleOptions().setName(Pattern.compile("^Then")))
        .click();
    editor.getByLabel("reject").check();
    assertThat(editor).containsText("Breaks a promise: The office sees the weather.");
  }

  @Test
  void aProbeTypedWithCompletionFallsToItsCatchWithAReasonAtEveryRulePassed() {
    Page page = browsing.open("Wanda", "/");
    assertThat(row(page, "gw-admin")).isVisible();
    page.keyboard().press("p");
    page.keyboard().type("from crew wi");
    assertThat(page.getByLabel("Ways to go on").getByRole(AriaRole.OPTION).first())
        .containsText("Crew wifi");
    page.keyboard().press("Tab");
    page.keyboard().type("as ines");
    assertThat(page.getByLabel("Ways to go on").getByRole(AriaRole.OPTION).first())
        .containsText("ines.halloran");
    page.keyboard().press("Tab");
    page.keyboard().type("to Internet using nookc");
    assertThat(page.getByLabel("Ways to go on").getByRole(AriaRole.OPTION).first())
        .containsText("Nookcall");
    page.keyboard().press("Tab");
    page.keyboard().press("Enter");
    assertThat(row(page, "wf-ines")).hasAttribute("data-standing", "catch");
    assertThat(row(page, "br-staff").locator("[data-reason]"))
        .containsText("from zone is Crew wifi, rule wants Offices, Terminals, Ships");
    assertThat(row(page, "wf-video")).hasAttribute("data-standing", "below");

    page.reload();
    assertThat(row(page, "wf-ines")).hasAttribute("data-standing", "catch");
    page.keyboard().press("p");
    page.keyboard().press("Escape");
    page.keyboard().press("Escape");
    assertThat(row(page, "wf-ines")).hasAttribute("data-standing", "none");
  }

  @Test
  void aProbeThatCannotBeReadSaysWhyAndKeepsItsText() {
    Page page = browsing.open("Wanda", "/");
    Locator probe = page.getByLabel("Probe", new Page.GetByLabelOptions().setExact(true));
    probe.fill("from Crew wifi as nobody.here to Internet");
    probe.press("Enter");
    assertThat(page.getByRole(AriaRole.ALERT))
        .containsText("nobody in the directory has the login");
    assertThat(probe).hasValue("from Crew wifi as nobody.here to Internet");
  }

  @Test
  void aNewRuleWithANewSetIsWrittenByKeyboardAndCatchesItsProbe() {
    Page page = browsing.open("Wanda", "/?rule=br-staff");
    assertThat(row(page, "br-staff")).hasAttribute("aria-selected", "true");
    page.locator("#stack").focus();
    page.keyboard().press("Shift+N");
    Locator editor = page.getByLabel("New rule", new Page.GetByLabelOptions().setExact(true));
    assertThat(editor.getByLabel("Add a zone")).isFocused();
    page.keyboard().type("offi");
    page.keyboard().press("Enter");
    assertThat(editor.getByLabel("take away Offices")).isVisible();
    page.keyboard().press("Alt+ArrowDown");
    assertThat(editor.getByLabel("Add a network")).isFocused();
    page.keyboard().type("10.20.77.0/24");
    page.keyboard()
        .press(
            "Enter"); // at once: what is taken is what was typed, not what the list showed before
    assertThat(editor.getByLabel("take away 10.20.77.0/24")).isVisible();
    page.keyboard().type("10.20.78.9");
    page.keyboard().press("Enter");
    assertThat(editor.getByLabel("take away 10.20.78.9")).isVisible();
    editor.getByText("Make a set of these").click();
    page.keyboard().type("Reading room");
    page.keyboard().press("Enter");
    assertThat(editor.getByLabel("take away set Reading room")).isVisible();
    editor
        .getByRole(AriaRole.TAB, new Locator.GetByRoleOptions().setName(Pattern.compile("^Then")))
        .click();
    editor.getByLabel("deny").check();
    editor
        .getByRole(AriaRole.TAB, new Locator.GetByRoleOptions().setName(Pattern.compile("^Name")))
        .click();
    editor.getByLabel("Name of the rule").fill("The reading room stays quiet");
    page.keyboard().press("Control+Enter");

    assertThat(editor).hasCount(0);
    assertThat(lens(page)).containsText("The reading room stays quiet");
    assertThat(lens(page).getByRole(AriaRole.HEADING).first()).hasText("Rule 49");
    page.keyboard().press("p");
    page.keyboard().type("from 10.20.78.9 as livia.quist to Internet using tcp/443 Isobar");
    page.keyboard().press("Enter");
    assertThat(page.locator("[data-standing=catch]")).containsText("The reading room stays quiet");

    place(page, "Named sets");
    page.getByLabel("Find a set").fill("reading room");
    assertThat(page.getByText("used 1×")).isVisible();
    assertThat(page.getByLabel("take away 10.20.77.0/24")).isVisible();
  }

  @Test
  void twoWindowsEditTheSameRuleAndTheSecondLosesNothing() {
    Page first = browsing.open("Wanda", "/?rule=gw-snmp");
    Page second = browsing.open("Piet", "/?rule=gw-snmp");
    Locator hers = openWords(first);
    Locator his = openWords(second);
    hers.fill("Wanda's name");
    his.fill("Piet's name");
    second.getByLabel("Note on the rule").fill("asked for by the harbour office");
    first.keyboard().press("Control+Enter");
    assertThat(row(first, "gw-snmp")).containsText("Wanda's name");

    second.keyboard().press("Control+Enter");
    Locator refusal = second.getByRole(AriaRole.ALERT);
    assertThat(refusal).containsText("Wanda changed rule 2");
    assertThat(his).hasValue("Piet's name");
    assertThat(second.getByLabel("Note on the rule")).hasValue("asked for by the harbour office");
    // Both named it: nothing is saved until one of the two names is chosen.
    Locator save = refusal.getByText("Save what is chosen");
    assertThat(save).isDisabled();
    assertThat(refusal).containsText("theirs: Wanda's name");
    refusal.getByText("mine: Piet's name").click();
    save.click();
    assertThat(row(second, "gw-snmp")).containsText("Piet's name");
    assertThat(lens(second)).containsText("asked for by the harbour office");
    assertThat(row(first, "gw-snmp")).containsText("Piet's name");
    assertThat(first.getByLabel("What happened")).containsText("Piet changed rule 2");
  }

  @Test
  void anotherPersonsEditReachesThePageAsWhatItChanged() {
    Page first = browsing.open("Wanda", "/?rule=br-press");
    Page second = browsing.open("Piet", "/?rule=br-press");
    assertThat(row(second, "br-press")).hasAttribute("aria-selected", "true");
    List<String> asked = new CopyOnWriteArrayList<>();
    second.onRequest(request -> asked.add(request.url()));
    Browsing.keys(first, "x");
    assertThat(row(second, "br-press")).containsText("off");
    assertThat(Browsing.said(second)).containsText("Wanda switched rule 50");
    Browsing.keys(first, "Alt+ArrowUp");
    assertThat(lens(second).getByRole(AriaRole.HEADING).first()).hasText("Rule 49");
    org.assertj.core.api.Assertions.assertThat(asked)
        .anyMatch(url -> url.contains("/changes?since="))
        .noneMatch(url -> url.endsWith("/api/rulebases/main-gateway"));
  }

  private static Locator openWords(Page page) {
    assertThat(row(page, "gw-snmp")).hasAttribute("aria-selected", "true");
    lens(page).getByText("Write", new Locator.GetByTextOptions().setExact(true)).click();
    return page.getByLabel("Name of the rule");
  }

  @Test
  void rulesAreClonedSwitchedOffAndRemovedByKeyboardAndComeBack() {
    Page page = browsing.open("Wanda", "/?rule=br-press");
    assertThat(row(page, "br-press")).hasAttribute("aria-selected", "true");
    page.locator("#stack").focus();
    page.keyboard().press("x");
    assertThat(row(page, "br-press")).containsText("off");
    page.keyboard().press("c");
    Locator draft =
        page.getByRole(AriaRole.REGION, new Page.GetByRoleOptions().setName("New rule"));
    assertThat(draft).containsText("Press contacts post (copy)");
    assertThat(draft).containsText("No connection would get another verdict. New: the new rule");
    page.keyboard().press("Control+Enter");
    assertThat(Browsing.said(page)).containsText("cloned rule 50 Press contacts post");
    assertThat(lens(page)).containsText("Copied from rule 50 (Press contacts post).");
    assertThat(lens(page)).not().containsText("off: it takes no part");
    page.keyboard().press("Delete");
    assertThat(
            page.getByText(
                "Press contacts post (copy)", new Page.GetByTextOptions().setExact(true)))
        .hasCount(0);
    button(page, "Undo").click();
    assertThat(
            page.getByText("Press contacts post (copy)", new Page.GetByTextOptions().setExact(true))
                .first())
        .isVisible();
  }

  @Test
  void aRuleIsDraggedToAnotherPlace() {
    Page page = browsing.open("Wanda", "/");
    assertThat(row(page, "gw-vpn")).isVisible();
    page.getByLabel("move rule 4", new Page.GetByLabelOptions().setExact(true)).hover();
    page.mouse().down();
    row(page, "gw-snmp").hover();
    row(page, "gw-admin").hover();
    assertThat(page.getByLabel("What it would do"))
        .hasText("Put above rule 1: every connection is decided as before");
    page.mouse().up();
    assertThat(page.getByLabel("What it would do")).hasCount(0);
    assertThat(page.getByLabel("What happened")).containsText("moved rule 4");
    assertThat(
            row(page, "gw-vpn")
                .getByLabel("move rule 1", new Locator.GetByLabelOptions().setExact(true)))
        .isVisible();
  }
}
