package ironsieve.server.browser;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static ironsieve.server.browser.Browsing.button;
import static ironsieve.server.browser.Browsing.place;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.RequestOptions;
import io.quarkus.test.junit.QuarkusTest;
import ironsieve.server.Captures;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Whole tasks with recorded traffic: from a capture to a rule, a foreign table, a watch, an edit.
 */
@QuarkusTest
class TrafficTasksTest extends WithBrowser {

  static Locator region(Page page, String name) {
    return page.getByRole(
        AriaRole.REGION, new Page.GetByRoleOptions().setName(name).setExact(true));
  }

  private static Locator bar(Page page, String chart, String value) {
    return region(page, chart)
        .getByRole(AriaRole.BUTTON)
        .filter(new Locator.FilterOptions().setHasText(value));
  }

  /** From the bar of an application to the draft of a rule that denies it to everybody. */
  static void draftDeny(Page page, String application) {
    bar(page, "Application", application).first().click();
    button(page, "Connections").click();
    page.getByLabel("Connections", new Page.GetByLabelOptions().setExact(true))
        .getByRole(AriaRole.BUTTON)
        .first()
        .click();
    Locator write =
        page.getByRole(AriaRole.FORM, new Page.GetByRoleOptions().setName("Write a rule"));
    write.getByLabel("Verdict").selectOption("deny");
    for (String part : new String[] {"from", "person", "to"}) {
      write.getByLabel(part, new Locator.GetByLabelOptions().setExact(true)).selectOption("any");
    }
    write
        .getByLabel("using", new Locator.GetByLabelOptions().setExact(true))
        .selectOption(application);
    assertThat(write).containsText("deny using " + application);
    button(write, "Draft this rule").click();
  }

  static void load(Page page, Path file) {
    page.getByLabel("A file of recorded traffic").setInputFiles(file);
  }

  @Test
  void fromACaptureNobodyKnowsToARuleThatCatchesIt(@TempDir Path folder) throws IOException {
    Path capture = folder.resolve("odd evening.pcapng");
    Files.write(capture, Captures.of(Captures.opened("app.seaweed.example", "GET", "/feed/1"), 9));
    Page page = browsing.open("Wanda", "/traffic");
    load(page, capture);
    assertThat(page.getByLabel("Tapes")).containsText("odd evening");
    button(page, "Not recognised").click();
    page.getByLabel("Not recognised", new Page.GetByLabelOptions().setExact(true))
        .getByRole(AriaRole.BUTTON)
        .filter(new Locator.FilterOptions().setHasText("app.seaweed.example"))
        .click();
    Locator editor =
        page.getByRole(AriaRole.FORM, new Page.GetByRoleOptions().setName("Signature"));
    editor
        .getByRole(
            AriaRole.BUTTON,
            new Locator.GetByRoleOptions()
                .setName("+ server name under seaweed.example")
                .setExact(true))
        .click();
    assertThat(editor.getByRole(AriaRole.STATUS).first()).containsText("It recognises 9 recorded");
    editor.getByLabel("Application").fill("Seaweed");
    editor.getByLabel("Category").fill("social");
    button(editor, "Save as your own").click();
    assertThat(page.getByText("Seaweed is recognised now.")).isVisible();
    button(page, "What it is").click();
    assertThat(region(page, "Application")).isVisible();
    button(page, "Not recognised").click();
    assertThat(page.getByText("app.seaweed.example")).hasCount(0);

    // From the bar to its connections, and from one of them to a rule of just the right width.
    place(page, "Rulebase");
    place(page, "Traffic");
    button(page, "What it is").click();
    region(page, "Application").getByText(Pattern.compile("more$")).click();
    bar(page, "Application", "Seaweed").click();
    button(page, "Connections").click();
    page.getByLabel("Connections", new Page.GetByLabelOptions().setExact(true))
        .getByRole(AriaRole.BUTTON)
        .first()
        .click();
    Locator write =
        page.getByRole(AriaRole.FORM, new Page.GetByRoleOptions().setName("Write a rule"));
    write.getByLabel("Verdict").selectOption("deny");
    write
        .getByLabel("from", new Locator.GetByLabelOptions().setExact(true))
        .selectOption("Offices");
    write.getByLabel("to", new Locator.GetByLabelOptions().setExact(true)).selectOption("any");
    assertThat(write).containsText("deny from Offices using Seaweed");
    button(write, "Draft this rule").click();
    Locator draft = region(page, "New rule");
    assertThat(draft).containsText("Seaweed");
    assertThat(page.getByText(Pattern.compile("recorded connections? .*another verdict")))
        .isVisible();
    page.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("Name and note")).click();
    page.getByLabel("Name of the rule").fill("No seaweed");
    button(page, "Save").click();
    assertThat(page.getByLabel("Why")).containsText("No seaweed catches it");
    place(page, "Traffic");
    button(page, "Where it falls").click();
    assertThat(
            page.getByLabel("What fell where")
                .getByRole(AriaRole.BUTTON)
                .filter(new Locator.FilterOptions().setHasText("No seaweed")))
        .containsText("9");
  }

  @Test
  void aTableOfForeignColumnsBecomesATapeOnceItsColumnsAreSaid(@TempDir Path folder)
      throws IOException {
    Path table = folder.resolve("last week.csv");
    Files.writeString(
        table,
        "Начало;Source IP;Цель;dport;Proto;User\n"
            + "2026-11-03 09:30:00;10.20.12.40;203.0.113.44;443;tcp;ines.halloran\n"
            + "2026-11-04 09:30:00;10.20.12.41;203.0.113.44;443;tcp;\n"
            + "2026-11-04 09:30:00;10.20.12.42;203.0.113.44;443;tcp;\n");
    Path people = folder.resolve("sign-ins.csv");
    Files.writeString(
        people, "Time;IP;User\n2026-11-04 08:00:00;10.20.12.42;NORTH\\hugo.ashdown\n");
    Page page = browsing.open("Wanda", "/traffic");
    page.getByLabel("A list of sign-ins").setInputFiles(people);
    page.getByLabel("Hours somebody is taken for there").fill("4");
    load(page, table);
    Locator columns =
        page.getByRole(
            AriaRole.FORM, new Page.GetByRoleOptions().setName("Columns of last week.csv"));
    assertThat(columns).containsText("Say which column says time and to");
    assertThat(columns.getByLabel("What Source IP holds")).hasValue("from");
    columns.getByLabel("What Начало holds").selectOption("time");
    columns.getByLabel("What Цель holds").selectOption("to");
    assertThat(columns).containsText("2026-11-03 09:30:00");
    button(columns, "Read it").click();
    // The next file with these headings is read as somebody said of this one.
    assertThat(columns).not().isVisible();
    load(page, table);
    assertThat(columns).containsText("As it was said of the last table with these headings");
    assertThat(columns.getByLabel("What Цель holds")).hasValue("to");
    button(columns, "Read by the headings").click();
    assertThat(columns).containsText("Say which column says time and to");
    button(columns, "Cancel").click();
    Locator tape = region(page, "last week");
    assertThat(tape).containsText("3 connections on 3 lines");
    assertThat(tape).containsText("1 sign-ins say who was there for 1 connections");
    bar(page, "Tape", "last week").click();
    assertThat(bar(page, "Person", "hugo.ashdown")).isVisible();
    assertThat(bar(page, "Person", "not said")).isVisible();
    button(page, "Connections").click();
    assertThat(page.getByLabel("Connections", new Page.GetByLabelOptions().setExact(true)))
        .containsText("person, device, host name, application not said");
  }

  /** Goes on with the tabulator until what has the focus says something. */
  private static void tabTo(Page page, Pattern what) {
    for (int i = 0; i < 300; i++) {
      page.keyboard().press("Tab");
      String focused =
          (String)
              page.evaluate(
                  "(document.activeElement.getAttribute('aria-label') ?? '')"
                      + " + ' ' + document.activeElement.textContent");
      if (what.matcher(focused).find()) {
        return;
      }
    }
    throw new AssertionError("nothing that says " + what + " can be reached");
  }

  @Test
  void withoutAMouseOneGetsFromABarOverAStretchOfTimeToARule() {
    Page page = browsing.open("Wanda", "/traffic");
    assertThat(bar(page, "Application", "Fenwick Share")).isVisible();
    tabTo(page, Pattern.compile("^Time: drag"));
    page.keyboard().press("ArrowRight");
    Locator narrowed = page.getByText(Pattern.compile("^[\\d,]+ of 33,543 .*connections$"));
    assertThat(narrowed).isVisible();
    page.keyboard().press("Escape");
    assertThat(narrowed).hasCount(0);
    tabTo(page, Pattern.compile("Fenwick Share"));
    page.keyboard().press("Enter");
    tabTo(page, Pattern.compile("^ Connections$"));
    page.keyboard().press("Enter");
    tabTo(page, Pattern.compile("^ \\d+×.*Fenwick Share"));
    page.keyboard().press("Enter");
    Locator write =
        page.getByRole(AriaRole.FORM, new Page.GetByRoleOptions().setName("Write a rule"));
    assertThat(write).isVisible();
    tabTo(page, Pattern.compile("^Verdict"));
    page.keyboard().press("r");
    tabTo(page, Pattern.compile("^to "));
    page.keyboard().press("End");
    assertThat(write).containsText(Pattern.compile("^.*reject from .* using Fenwick Share"));
    page.keyboard().press("Enter");
    tabTo(page, Pattern.compile("Draft this rule"));
    page.keyboard().press("Enter");
    assertThat(region(page, "New rule")).containsText("Fenwick Share");
    assertThat(page.getByText(Pattern.compile("recorded connections?.*another verdict")))
        .isVisible();
    page.keyboard().press("Control+Enter");
    assertThat(Browsing.said(page)).containsText("added");
  }

  @Test
  void aWatchSaysWhenItIsAboveItsThreshold() {
    Page page = browsing.open("Wanda", "/traffic");
    bar(page, "Application", "DNS").first().click();
    button(page, "Keep as a watch").click();
    Locator form =
        page.getByRole(AriaRole.FORM, new Page.GetByRoleOptions().setName("Keep as a watch"));
    form.getByLabel("Name of the watch").fill("Name resolution");
    form.getByLabel("Threshold").fill("5");
    button(form, "Save").click();
    Locator watches = page.getByLabel("Watches");
    assertThat(watches).containsText("above 5: at most");
    page.reload();
    assertThat(watches).containsText("Name resolution");
    button(page, "Remove the watch Name resolution").click();
    assertThat(watches).hasCount(0);
  }

  @Test
  void anEditThatWouldStopRecordedConnectionsSaysWhoseBeforeItIsSaved() {
    Page page = browsing.open("Wanda", "/traffic");
    draftDeny(page, "Fenwick Share");
    assertThat(region(page, "New rule")).isVisible();
    Locator said =
        page.getByText(
            Pattern.compile("recorded connections of \\d+ people would get another verdict"));
    assertThat(said).isVisible();
    said.click();
    assertThat(page.getByText(Pattern.compile("× allow → deny: from ")).first()).isVisible();
    button(page, "Cancel").click();
    assertThat(page.getByText("revision 0")).isVisible();
  }

  @Test
  void onlyTheLastDaysOfATapeAreKeptOnceSomebodySaysSo() {
    Page page = browsing.open("Wanda", "/traffic");
    Locator tape = region(page, "autumn weeks");
    assertThat(tape).containsText("33,543 connections");
    tape.getByText("Keep less of it").click();
    button(tape, "always").press("Enter");
    tape.getByLabel("Days of autumn weeks that are kept").fill("10");
    assertThat(tape.getByRole(AriaRole.STATUS)).containsText("lines are older.");
    assertThat(tape).containsText("33,543 connections");
    button(tape, "Keep only 10 days").press("Enter");
    assertThat(tape).containsText("Only the last 10 days are kept");
    assertThat(tape).containsText("2026-11-15 to");
    page.reload();
    tape.getByText("Only the last 10 days are kept").click();
    button(tape, "Keep all from now on").click();
    assertThat(tape).containsText("Keep less of it");
  }

  @Test
  void filesTooLargeForATapeAreReplayedBehindAndOpenedByAnybody() {
    Page page = browsing.open("Wanda", "/traffic");
    page.request()
        .post(
            address + "api/rulebases/main-gateway/edits",
            RequestOptions.create()
                .setHeader("Content-Type", "application/json")
                .setData(
                    """
                    {"revision": 0, "what": "stop it all", "steps": [{"op": "ADD_RULE", "id": "stop-all",
                     "place": {"before": "gw-admin"},
                     "rule": {"name": "Stop it all", "verdict": "deny", "state": "on"}}]}
                    """));
    assertThat(page.getByText("revision 1")).isVisible();
    Locator replays = region(page, "Replays");
    button(replays, "Replay files").press("Enter");
    Locator form = replays.getByRole(AriaRole.FORM);
    assertThat(form.getByLabel("What to replay")).containsText("one month.csv");
    form.getByLabel("The revision to compare with").fill("7");
    form.getByLabel("The revision to compare with").press("Enter");
    assertThat(replays).containsText("revisions 0 to 1");
    form.getByLabel("The revision to compare with").fill("0");
    form.getByLabel("The revision to compare with").press("Enter");
    assertThat(replays.getByRole(AriaRole.STATUS)).containsText("for Wanda");

    Page other = browsing.open("Aksel", "/traffic");
    Locator seen = region(other, "Replays");
    assertThat(seen.getByRole(AriaRole.STATUS)).containsText("for Wanda");
    button(seen, "Open")
        .click(new Locator.ClickOptions().setTimeout(Duration.ofMinutes(3).toMillis()));
    assertThat(other.getByText("Replay 1: 40,445 connections")).isVisible();
    assertThat(bar(other, "Caught by", "Stop it all")).isVisible();
    assertThat(bar(other, "Caught by", "Stop it all")).isDisabled();
    Locator changed = region(other, "Another verdict");
    assertThat(changed).containsText("connections get another verdict");
    changed.getByRole(AriaRole.BUTTON).first().click();
    assertThat(other.getByLabel("Why")).containsText("Stop it all catches it");
    place(other, "Traffic");
    button(seen, "Remove").click();
    assertThat(button(seen, "Open")).hasCount(0);
    assertThat(button(replays, "Open")).hasCount(0);
  }
}
