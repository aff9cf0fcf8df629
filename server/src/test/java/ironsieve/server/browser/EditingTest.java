package ironsieve.server.browser;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static ironsieve.server.browser.Browsing.button;
import static ironsieve.server.browser.Browsing.keys;
import static ironsieve.server.browser.Browsing.lens;
import static ironsieve.server.browser.Browsing.place;
import static ironsieve.server.browser.Browsing.row;
import static ironsieve.server.browser.Browsing.said;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.Route;
import com.microsoft.playwright.options.AriaRole;
import io.quarkus.test.junit.QuarkusTest;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.List;
import java.util.concurrent.ConcurrentLinkedDeque;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;

/**
 * Whole pieces of work on the stack: many rules at once, chapters, sentences, history, the tour.
 */
@QuarkusTest
class EditingTest extends WithBrowser {

  private static Locator label(Page page, String label) {
    return page.getByLabel(label, new Page.GetByLabelOptions().setExact(true));
  }

  @Test
  void aFilterByWhatRulesCanMatchLeavesTheOrderPlainAndFeedsWorkOnMany() {
    Page page = browsing.open("Wanda", "/");
    assertThat(row(page, "gw-admin")).isVisible();
    keys(page, "/");
    page.keyboard().type("match:10.80.1.9 verdict:allow");
    Locator shown = page.getByLabel("What is shown");
    assertThat(shown).containsText("shown in their order");
    assertThat(page.getByText(Pattern.compile("rules? left out here")).first()).isVisible();
    assertThat(row(page, "br-press")).hasCount(0);
    button(page, "Choose all shown").click();
    label(page, "Do").selectOption("owner");
    label(page, "Owner").fill("Berth team");
    assertThat(page.getByText("No connection would get another verdict.")).isVisible();
    page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Apply to")).click();
    assertThat(said(page)).containsText("to Berth team");
    label(page, "Show").fill("owner:berth verdict:allow");
    assertThat(shown).hasText(Pattern.compile("^[1-9]\\d* shown"));
    assertThat(page.locator("[role=row][id^=row-]").getByText("Berth team").first()).isVisible();
    keys(page, "Control+z");
    assertThat(shown).hasText(Pattern.compile("^0 shown"));
  }

  @Test
  void aValueIsReplacedWhereverItStandsOnceItsImpactIsRead() {
    Page page = browsing.open("Wanda", "/?find=names:Chatterbay/upload");
    row(page, "br-chat").click();
    button(page, "Show all").click();
    row(page, "br-press")
        .click(
            new Locator.ClickOptions()
                .setModifiers(
                    java.util.List.of(com.microsoft.playwright.options.KeyboardModifier.CONTROL)));
    assertThat(lens(page)).containsText("2 rules");
    label(page, "Do").selectOption("replace");
    label(page, "Value").selectOption("Decklife");
    page.getByLabel("Add a value instead").fill("Quill");
    page.keyboard().press("Enter");
    assertThat(page.locator("[data-impact]")).isVisible();
    button(page, "Apply to 1").click();
    assertThat(said(page)).containsText("replaced Decklife by");
    assertThat(row(page, "br-press")).not().containsText("Decklife");
  }

  @Test
  void aSentenceBecomesARuleInTheBestPlaceByKeyboardAlone() {
    Page page = browsing.open("Wanda", "/?rule=br-chat");
    assertThat(row(page, "br-chat")).isVisible();
    keys(page, "p");
    page.keyboard().type("deny from Offices as livia.quist to Internet using tcp/443 tcp/80");
    page.keyboard().press("Enter");
    Locator draft =
        page.getByRole(AriaRole.REGION, new Page.GetByRoleOptions().setName("New rule"));
    assertThat(draft).containsText("livia.quist");
    assertThat(draft).containsText("Better above rule 49: below it");
    assertThat(draft).containsText("Put it above rule 49 Staff browse");
    page.getByLabel("Add a zone").press("Alt+Enter");
    assertThat(draft).not().containsText("Better above");
    assertThat(draft).containsText("another verdict");
    page.getByLabel("Add a zone").press("Control+Enter");
    assertThat(said(page)).containsText("added a rule without a name");
    assertThat(lens(page)).containsText("Rule 49");
    assertThat(lens(page)).containsText("livia.quist");
  }

  @Test
  void chaptersAreAddedNamedMovedWithTheirRulesAndTakenOut() {
    Page page = browsing.open("Wanda", "/");
    page.getByText("Names, time and directory").click();
    Locator names = page.locator("[id='row-chapter names']");
    names.click(new Locator.ClickOptions().setPosition(500, 15));
    page.getByLabel("Title of a new chapter").fill("Odds and ends");
    page.keyboard().press("Enter");
    assertThat(said(page)).containsText("added chapter Odds and ends");
    page.getByLabel("Title of the chapter").fill("Names and time");
    button(page, "Save").click();
    assertThat(names).containsText("Names and time");
    assertThat(row(page, "gw-admin")).containsText("1");
    keys(page, "Alt+ArrowUp");
    assertThat(said(page)).containsText("moved chapter Names and time");
    assertThat(row(page, "gw-admin")).containsText("6");
    page.locator("[role=row]")
        .filter(new Locator.FilterOptions().setHasText("Odds and ends"))
        .click(new Locator.ClickOptions().setPosition(500, 15));
    assertThat(page.getByLabel("Title of the chapter")).hasValue("Odds and ends");
    button(page, "Remove").last().click();
    assertThat(page.getByText("Odds and ends")).hasCount(1);
    assertThat(said(page)).containsText("removed chapter Odds and ends");
  }

  @Test
  void twoRevisionsStandSideBySideInOrderAndInEffect() {
    Page page = browsing.open("Wanda", "/?rule=br-chat");
    assertThat(lens(page)).containsText("Rule 51");
    keys(page, "Alt+ArrowUp", "Alt+ArrowUp");
    assertThat(lens(page)).containsText("Rule 49");
    keys(page, "x");
    assertThat(said(page)).containsText("off");
    place(page, "History");
    page.getByLabel("compare from revision 0").check();
    page.getByLabel("compare to revision 2").check();
    assertThat(label(page, "In effect")).containsText("revision 0 → 2");
    assertThat(label(page, "In effect")).containsText("Chatterbay/upload");
    Locator order = label(page, "In order");
    assertThat(order).containsText("only after");
    assertThat(order).containsText("only before");
    page.getByLabel("compare from revision 2").check();
    page.getByLabel("compare to revision 3").check();
    assertThat(order).containsText("state: off");
  }

  @Test
  void aValueIsDraggedToAnotherRuleAndARuleIsSplitAndMergedAgain() {
    Page page = browsing.open("Wanda", "/?rule=br-press");
    Locator value =
        row(page, "br-press")
            .getByText("Press contacts", new Locator.GetByTextOptions().setExact(true));
    assertThat(value).isVisible();
    value.hover();
    page.mouse().down();
    row(page, "br-staff").hover();
    row(page, "br-staff").hover();
    assertThat(page.getByLabel("What it would do"))
        .hasText(Pattern.compile("Given to rule 49: .* decided .*"));
    page.mouse().up();
    assertThat(said(page)).containsText("gave rule 49 Staff browse group Press contacts");
    keys(page, "Control+z");
    assertThat(said(page)).containsText("undid");

    row(page, "br-press").click(new Locator.ClickOptions().setPosition(300, 10));
    button(page, "by application, into 3").click();
    assertThat(lens(page)).containsText("No connection would get another verdict.");
    button(page, "Split it").click();
    assertThat(said(page)).containsText("split rule 50");
    keys(page, "Shift+ArrowDown", "Shift+ArrowDown");
    assertThat(lens(page)).containsText("3 rules");
    label(page, "Do").selectOption("merge");
    button(page, "Apply to 3").click();
    assertThat(said(page)).containsText("merged 3 rules");
    assertThat(row(page, "br-chat")).containsText("51");
  }

  @Test
  void theTourIsRealWorkFromFindingToUndo() {
    Page page = browsing.window("Nia", com.microsoft.playwright.options.ColorScheme.LIGHT);
    browsing.go(page, "/?tour");
    Locator tour =
        page.getByRole(AriaRole.COMPLEMENTARY, new Page.GetByRoleOptions().setName("Tour"));
    assertThat(tour).containsText("Step 1 of 4");
    keys(page, "f");
    assertThat(tour).containsText("Step 2 of 4");
    assertThat(lens(page)).containsText("Try this witness");
    keys(page, "t");
    assertThat(tour).containsText("Step 3 of 4");
    lens(page).getByText(Pattern.compile("^Remedy")).first().click();
    button(page, "Apply").click();
    assertThat(page.locator("#stack")).isFocused();
    assertThat(tour).containsText("Step 4 of 4");
    keys(page, "Control+z");
    assertThat(tour).containsText("That is the whole way");
    button(page, "Close").click();
    assertThat(tour).hasCount(0);
  }

  @Test
  void whatWasTypedIntoARuleThatSomebodyElseTakesOutBecomesANewRule() {
    Page page = browsing.open("Wanda", "/?rule=br-press");
    assertThat(lens(page)).containsText("Rule 50");
    keys(page, "Enter");
    page.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("Name and note")).click();
    label(page, "Note on the rule").fill("Until the regatta");
    Page other = browsing.open("Odette", "/?rule=br-press");
    assertThat(lens(other)).containsText("Rule 50");
    keys(other, "Delete");
    assertThat(said(other)).containsText("removed rule 50");

    Locator draft =
        page.getByRole(AriaRole.REGION, new Page.GetByRoleOptions().setName("New rule"));
    assertThat(draft).isVisible();
    assertThat(said(page)).containsText("Somebody removed the rule");
    page.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("Name and note")).click();
    assertThat(label(page, "Note on the rule")).hasValue("Until the regatta");
    button(page, "Save").click();
    assertThat(lens(page)).containsText("Rule 50");
    assertThat(lens(page)).containsText("Until the regatta");
    assertThat(lens(page)).containsText("Press contacts post");
  }

  @Test
  void aTapeIsLoadedAndTheUnusedRuleItFallsOnIsSeenToBeUsed(
      @org.junit.jupiter.api.io.TempDir java.nio.file.Path folder) throws Exception {
    Page page = browsing.open("Wanda", "/?find=finding:unused");
    assertThat(row(page, "li-remote")).containsText("no hits");
    row(page, "li-remote").click();
    assertThat(lens(page)).containsText("29 days of recorded traffic");
    place(page, "Traffic");
    assertThat(page.getByText("rules caught none.")).isVisible();
    java.nio.file.Path tape = folder.resolve("one evening.csv");
    java.nio.file.Files.writeString(tape, "times,connection\n4,from Nowhere to Offices\n");
    page.getByLabel("A file of recorded traffic").setInputFiles(tape);
    assertThat(page.getByRole(AriaRole.ALERT)).containsText("when it was seen");
    java.nio.file.Files.writeString(
        tape,
        "times,connection\n4,from Internet 203.0.113.9 to Offices 10.20.12.10 using Farhand"
            + " at tue 2026-11-03 22:10\n");
    page.getByLabel("A file of recorded traffic").setInputFiles(tape);
    assertThat(label(page, "Tapes")).containsText("one evening");
    button(page, "Where it falls").click();
    Locator hit =
        label(page, "What fell where")
            .getByRole(
                AriaRole.BUTTON,
                new Locator.GetByRoleOptions().setName(Pattern.compile("No remote control")));
    hit.click();
    page.getByText("from Internet 203.0.113.9").click();
    assertThat(row(page, "li-remote")).hasAttribute("data-standing", "catch");
    row(page, "li-remote").click();
    assertThat(row(page, "li-remote")).containsText("4 hits");
    assertThat(lens(page)).not().containsText("Nothing was caught by this rule");
  }

  @Test
  void aLongTapeShowsHowFarItIsAndCanBeCancelled(
      @org.junit.jupiter.api.io.TempDir java.nio.file.Path folder) throws Exception {
    StringBuilder csv = new StringBuilder("times,connection\n");
    for (int i = 0; i < 100_000; i++) {
      csv.append("1,from Offices 10.20.").append(i % 60).append('.').append(i % 250 + 1);
      csv.append(" to Internet using tcp/443 at 2026-11-03 22:10\n");
    }
    java.nio.file.Path tape = folder.resolve("a long month.csv");
    java.nio.file.Files.writeString(tape, csv);
    Page page = browsing.open("Wanda", "/traffic");
    page.getByLabel("A file of recorded traffic").setInputFiles(tape);
    Locator strip = label(page, "What takes long");
    assertThat(strip).containsText("loading a long month: reading lines");
    assertThat(strip.getByRole(AriaRole.PROGRESSBAR)).containsText("of 100,000");
    strip.getByText("Cancel").click();
    assertThat(page.getByRole(AriaRole.ALERT)).containsText("You cancelled this");
    assertThat(strip).hasCount(0);
    page.reload();
    assertThat(label(page, "Tapes")).containsText("autumn weeks");
    assertThat(label(page, "Tapes")).not().containsText("a long month");
  }

  @Test
  void nothingTypedIsLostByAReloadALostConnectionOrAStalePage() {
    Page page = browsing.open("Wanda", "/?rule=br-press");
    assertThat(lens(page)).containsText("Rule 50");
    keys(page, "Enter");
    page.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("Name and note")).click();
    label(page, "Note on the rule").fill("Asked for by the press office, until the regatta");
    page.reload();
    page.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("Name and note")).click();
    assertThat(label(page, "Note on the rule"))
        .hasValue("Asked for by the press office, until the regatta");

    page.context().setOffline(true);
    button(page, "Save").click();
    assertThat(page.getByRole(AriaRole.ALERT)).containsText("The server does not answer");
    page.context().setOffline(false);

    Page other = browsing.open("Odette", "/?rule=br-press");
    assertThat(lens(other)).containsText("Rule 50");
    keys(other, "x");
    assertThat(said(other)).containsText("switched rule 50");
    button(page, "Save").click();
    Locator alert = page.getByRole(AriaRole.ALERT);
    assertThat(alert).containsText("Odette switched rule 50");
    button(page, "Save mine too").click();
    assertThat(lens(page)).containsText("until the regatta");
    assertThat(lens(page)).containsText("off: it takes no part");
    page.reload();
    assertThat(lens(page)).containsText("until the regatta");
    assertThat(button(page, "Cancel")).hasCount(0);
  }

  @Test
  void whatIsWrittenIntoARuleKeepsItsBaseOverAReloadAndTakesNothingFromAnotherWindow() {
    Page page = browsing.open("Wanda", "/?rule=br-press");
    Page other = browsing.open("Odette", "/?rule=br-press");
    assertThat(row(page, "br-press")).hasAttribute("aria-selected", "true");
    assertThat(row(other, "br-press")).hasAttribute("aria-selected", "true");
    keys(page, "Enter");
    page.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("Name and note")).click();
    label(page, "Name of the rule").fill("Post of the regatta");

    keys(other, "Enter");
    other.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("Then")).click();
    other
        .getByRole(AriaRole.RADIO, new Page.GetByRoleOptions().setName("reject").setExact(true))
        .click();
    other.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("Name and note")).click();
    label(other, "Note on the rule").fill("Until the leak is mended");
    other.keyboard().press("Control+Enter");
    assertThat(lens(other)).containsText("Until the leak is mended");

    page.reload();
    page.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("Name and note")).click();
    assertThat(label(page, "Name of the rule")).hasValue("Post of the regatta");
    label(page, "Name of the rule").press("Control+Enter");
    Locator alert = page.getByRole(AriaRole.ALERT);
    assertThat(alert).containsText("Odette changed rule 50");
    assertThat(alert).containsText("No field of this rule was changed by both of you");
    button(page, "Save mine too").click();
    for (Page window : List.of(page, other)) {
      assertThat(row(window, "br-press")).containsText("Post of the regatta");
      assertThat(row(window, "br-press")).containsText("reject");
      assertThat(lens(window)).containsText("Until the leak is mended");
    }
  }

  @Test
  void ofAPastedListEachValueThatCannotBeReadIsMarked() {
    Page page = browsing.open("Wanda", "/?rule=br-press");
    assertThat(lens(page)).containsText("Rule 50");
    keys(page, "Enter");
    page.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("To · network")).click();
    page.evaluate(
        "list => { const data = new DataTransfer(); data.setData('text', list);"
            + " document.activeElement.dispatchEvent(new ClipboardEvent('paste',"
            + " {clipboardData: data, bubbles: true, cancelable: true})) }",
        "10.20.0.7\n10.20.0.300\n10.20.0.8\nten.twenty/99");
    Locator wrong =
        page.getByRole(
            AriaRole.IMG,
            new Page.GetByRoleOptions().setName(Pattern.compile("10.20.0.300|ten.twenty")));
    assertThat(wrong).hasCount(2);
    page.getByLabel("take away 10.20.0.300").click();
    page.getByLabel("take away ten.twenty/99").click();
    assertThat(wrong).hasCount(0);
    assertThat(page.getByText("The impact cannot be worked out")).hasCount(0);
  }

  @Test
  void keysWorkOnAPageThatWasJustOpened() {
    Page page = browsing.open("Wanda", "/");
    assertThat(lens(page)).containsText("The review found");
    page.keyboard().press("f");
    assertThat(row(page, "gw-admin")).hasAttribute("aria-selected", "true");
    page.keyboard().press("j");
    assertThat(row(page, "gw-snmp")).hasAttribute("aria-selected", "true");
    page.keyboard().press("n");
    assertThat(label(page, "New rule")).isVisible();
    page.keyboard().press("Escape");
    page.reload();
    assertThat(row(page, "gw-snmp")).isVisible();
    page.keyboard().press("Meta+k");
    assertThat(page.getByPlaceholder(Pattern.compile("a rule, a chapter"))).isFocused();
  }

  @Test
  void anotherRuleIsNotOpenedOverWhatIsWrittenIntoOne() {
    Page page = browsing.open("Wanda", "/?rule=br-press");
    assertThat(lens(page)).containsText("Rule 50");
    keys(page, "n");
    Locator draft =
        page.getByRole(AriaRole.REGION, new Page.GetByRoleOptions().setName("New rule"));
    assertThat(draft).isVisible();
    keys(page, "c");
    assertThat(draft).containsText("Press contacts post (copy)");
    keys(page, "Enter");
    assertThat(said(page)).containsText("keep it or leave it first");
    assertThat(draft).containsText("Press contacts post (copy)");
    button(page, "Cancel").click();
    assertThat(draft).hasCount(0);
    keys(page, "Enter");
    assertThat(label(page, "Editing rule 50")).isVisible();
  }

  @Test
  void whatAKeyDidIsSeenAtOnceAndTakenBackWhereTheServerDoesNotKeepIt() {
    Page page = browsing.open("Wanda", "/?rule=br-intern");
    assertThat(lens(page)).containsText("Rule 52");
    Locator first = row(page, "br-intern").getByLabel("move rule 51");
    Deque<Route> held = new ArrayDeque<>();
    page.route("**/edits", held::add);

    keys(page, "Alt+ArrowUp", "Alt+ArrowUp", "x");
    assertThat(row(page, "br-intern").getByLabel("move rule 50")).isVisible();
    assertThat(row(page, "br-intern")).hasAttribute("aria-label", Pattern.compile(", off:"));
    assertThat(page.getByText("not kept yet")).isVisible();
    assertThat(button(page, "Undo")).isDisabled();

    held.remove().resume();
    page.waitForCondition(() -> !held.isEmpty());
    assertThat(said(page)).containsText("moved rule 52");
    held.remove().abort();
    page.waitForCondition(() -> !held.isEmpty());
    assertThat(first).isVisible();
    assertThat(said(page)).containsText("The server does not answer");
    held.remove().resume();
    assertThat(said(page)).containsText("switched rule 51");
    assertThat(page.getByText("not kept yet")).hasCount(0);
    assertThat(first).isVisible();
    page.unrouteAll();
    page.reload();
    assertThat(first).isVisible();
    assertThat(row(page, "br-intern")).hasAttribute("aria-label", Pattern.compile(", off:"));
  }

  @Test
  void whatAnEditDidStandsBesideItAndIsTriedFromThere() {
    Page page = browsing.open("Wanda", "/?rule=bk-export");
    assertThat(lens(page)).containsText("This rule never matches");
    keys(page, "Alt+ArrowUp");
    assertThat(page.getByText("kept again: Agents cannot export passenger lists")).isVisible();
    keys(page, "e");
    Locator did =
        page.getByRole(
            AriaRole.REGION, new Page.GetByRoleOptions().setName("What the last edit did"));
    assertThat(did).containsText("1 group of connections gets another verdict. 1 finding ends.");
    did.getByText("try one").click();
    assertThat(row(page, "bk-export")).hasAttribute("data-standing", "catch");
    keys(page, "Control+z");
    assertThat(did).containsText("Broke a promise: Agents cannot export passenger lists.");
    assertThat(row(page, "bk-agents")).hasAttribute("data-standing", "catch");
    button(page, "Close").click();
    assertThat(did).hasCount(0);
  }

  @Test
  void whatEditsDidThatFollowEachOtherIsToldTogether() {
    Page page = browsing.open("Wanda", "/?rule=bk-export");
    assertThat(lens(page)).containsText("This rule never matches");
    Deque<Route> held = new ConcurrentLinkedDeque<>();
    page.route("**/impact?from=*", held::add);
    keys(page, "Alt+ArrowUp");
    assertThat(said(page)).containsText("moved rule 13");
    keys(page, "Alt+ArrowUp", "x");
    assertThat(said(page)).containsText("switched rule 11");
    page.unrouteAll();
    held.forEach(Route::resume);
    assertThat(page.getByText("3 edits together: every connection is decided as before"))
        .isVisible();
    keys(page, "x");
    assertThat(page.getByText("kept again: Agents cannot export passenger lists")).isVisible();
    assertThat(page.getByText("edits together")).hasCount(0);
  }

  @Test
  void whatAButtonWouldDoIsWeighedBeforeItIsPressed() {
    Page page = browsing.open("Wanda", "/?rule=bk-export");
    assertThat(lens(page)).containsText("This rule never matches");
    Locator would = page.getByLabel("What it would do");
    button(page, "Remove").hover();
    assertThat(would).hasText("Remove: every connection is decided as before · 1 finding fewer");
    button(page, "Up").focus();
    assertThat(would).containsText("Up: 1 group of connections with another verdict");
    page.keyboard().press("Enter");
    assertThat(said(page)).containsText("moved rule 13");
    assertThat(would).hasCount(0);
    button(page, "Undo").hover();
    assertThat(would)
        .hasText(
            "Undo: breaks a promise: Agents cannot export passenger lists"
                + " · 1 group of connections with another verdict · 8 recorded ones among them · 1 new finding");
    button(page, "Undo").click();
    assertThat(said(page)).containsText("undid");
  }

  @Test
  void whatTheKeysWouldDoIsReadBeforeOneOfThemIsPressed() {
    Page page = browsing.open("Wanda", "/?rule=bk-export");
    keys(page, "w");
    Locator would = label(page, "What the keys would do");
    assertThat(would)
        .containsText(
            "Up: 1 group of connections with another verdict · 8 recorded ones among them · 1 finding fewer");
    assertThat(would).containsText("kept again: Agents cannot export passenger lists");
    assertThat(would).containsText("Switch off: every connection is decided as before");
    keys(page, "ArrowUp");
    assertThat(would).containsText("would do to rule 12 Agents at work");
    assertThat(would)
        .containsText(
            java.util.regex.Pattern.compile(
                "Remove: 1 group of connections with another verdict"
                    + " · \\d+ recorded ones among them · 1 new finding"));
    page.locator("[id='row-chapter names']").click(new Locator.ClickOptions().setPosition(500, 15));
    assertThat(would).containsText("would do to chapter Names, time and directory");
    assertThat(would).containsText("Remove: not possible, ");
    keys(page, "w");
    assertThat(would).hasCount(0);
  }

  @Test
  void theDefaultVerdictIsChangedOnceItsImpactIsRead() {
    Page page = browsing.open("Wanda", "/?rule=br-chat");
    assertThat(row(page, "br-chat")).isVisible();
    keys(page, "End");
    Locator last = page.locator("[id='row-default verdict']");
    last.click();
    label(page, "reject").check();
    assertThat(lens(page)).containsText("would get another verdict");
    button(page, "Save").click();
    assertThat(said(page)).hasText("set the default verdict to reject");
    assertThat(last).containsText("reject");
    keys(page, "Control+z");
    assertThat(last).containsText("deny");
  }

  @Test
  void whatRulesShareIsWeighedBeforeItIsTakenAway() {
    Page page = browsing.open("Wanda", "/shared");
    Locator would = page.getByLabel("What it would do");
    button(page, "Remove the sheet").hover();
    assertThat(would).containsText("Remove: not possible, ");
    button(page, "New sheet").click();
    page.getByLabel("Name of the new sheet").fill("Nothing yet");
    page.keyboard().press("Enter");
    assertThat(label(page, "Sheet Nothing yet")).containsText("No rule uses it.");
    button(page, "Remove the sheet").hover();
    assertThat(would).hasText("Remove: every connection is decided as before");
    button(page, "Remove the sheet").click();
    assertThat(page.getByLabel("Sheet Nothing yet")).hasCount(0);
    browsing.go(page, "/sets?find=Booking%20servers");
    button(page, "Remove").focus();
    assertThat(would).containsText("Remove: not possible, ");
  }

  @Test
  void aSetIsChangedOnceItsImpactOnAllItsRulesIsReadAndThenToldWhatItDid() {
    Page page = browsing.open("Wanda", "/sets?find=Booking%20servers");
    assertThat(page.getByText("rule 13 Exports only by supervisors")).isVisible();
    label(page, "Add a network").fill("10.20.0.9");
    label(page, "Add a network").press("Enter");
    assertThat(page.getByText("2 groups of connections would get another verdict")).isVisible();
    button(page, "Save").click();
    assertThat(page.getByLabel("What the last edit did"))
        .containsText("changed set Booking servers2 groups of connections with another verdict");
    button(page, "See all of it").click();
    assertThat(page.getByLabel("In effect"))
        .containsText("2 groups of connections get another verdict");
  }

  @Test
  void rulesAreCopiedAsTextAndPutBelowAnotherByKeyboardAlone() {
    Page page = browsing.open("Wanda", "/?rule=bk-export");
    page.context().grantPermissions(List.of("clipboard-read", "clipboard-write"));
    assertThat(lens(page)).containsText("Rule 13");
    keys(page, "Shift+ArrowUp", "Control+c");
    assertThat(said(page)).hasText("copied 2 rules");
    keys(page, "Escape", "End", "ArrowUp", "Control+v");
    Locator waiting = label(page, "Rules to be pasted");
    assertThat(waiting).containsText("Agents at work · Exports only by supervisors");
    assertThat(waiting).containsText("No connection would get another verdict.");
    page.keyboard().press("Escape");
    assertThat(waiting).hasCount(0);
    page.keyboard().press("Control+v");
    assertThat(button(page, "Paste them")).isFocused();
    page.keyboard().press("Enter");
    assertThat(said(page)).hasText("pasted 2 rules");
    Locator pasted = page.getByText(Pattern.compile("^Pasted: rule 1[23] of Main gateway"));
    assertThat(pasted).hasCount(2);
    assertThat(pasted.nth(1)).containsText("Pasted: rule 13");
    page.evaluate(
        "navigator.clipboard.writeText('rule a \"No web for her\"\\n  from zones: Offices\\n"
            + "  from people: livia.quist\\n  to zones: Internet\\n"
            + "  using services: tcp/443; tcp/80\\n  then: deny')");
    browsing.go(page, "/?rule=br-chat");
    assertThat(lens(page)).containsText("Rule 51");
    keys(page, "Control+v");
    assertThat(waiting).containsText("Put it above rule 49 Staff browse");
    page.keyboard().press("Alt+Enter");
    assertThat(waiting).containsText("right above rule 49 Staff browse: No web for her");
    page.keyboard().press("Enter");
    assertThat(lens(page)).containsText("Rule 49");
    assertThat(lens(page)).containsText("No web for her");
    page.evaluate("navigator.clipboard.writeText('rule a\\n  then: permit')");
    keys(page, "Control+v");
    assertThat(said(page)).containsText("This cannot be pasted: line 2, column 9");
    keys(page, "Control+z", "Control+z");
    assertThat(pasted).hasCount(0);
  }

  @Test
  void aPageFromBeforeTheApplicationWasRenewedSaysSoAndLosesNothing() {
    Page page = browsing.open("Wanda", "/?rule=br-press");
    keys(page, "Enter");
    page.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("Name and note")).click();
    label(page, "Note on the rule").fill("Until the regatta");
    String renewed = "<script type=\"module\" src=\"/assets/renewed.js\"></script>";
    page.route(
        "**/",
        route -> {
          if (route.request().resourceType().equals("fetch")) {
            route.fulfill(new Route.FulfillOptions().setBody(renewed));
          } else {
            route.resume();
          }
        });
    page.reload();
    assertThat(page.getByText("has been renewed since this page was opened")).isVisible();
    page.unrouteAll();
    button(page, "Reload").click();
    page.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("Name and note")).click();
    assertThat(label(page, "Note on the rule")).hasValue("Until the regatta");
    assertThat(page.getByText("has been renewed since this page was opened")).hasCount(0);
  }
}
