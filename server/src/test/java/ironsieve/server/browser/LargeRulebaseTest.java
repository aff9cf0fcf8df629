package ironsieve.server.browser;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static ironsieve.server.browser.Browsing.button;
import static ironsieve.server.browser.Browsing.keys;
import static ironsieve.server.browser.Browsing.lens;
import static ironsieve.server.browser.Browsing.row;
import static ironsieve.server.browser.Browsing.said;
import static org.assertj.core.api.Assertions.assertThat;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import io.quarkus.test.junit.QuarkusTest;
import ironsieve.Cases;
import ironsieve.server.demo.DemoLoader;
import ironsieve.server.edit.Editor;
import ironsieve.server.edit.WarmUp;
import jakarta.inject.Inject;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;

/** A person's work on ten thousand rules; times are reported and not asserted. */
@QuarkusTest
class LargeRulebaseTest extends WithBrowser {

  private static final int RULES = 10_000;
  private static final int EDITS = Cases.isLong() ? 8 : 2;
  private static final String BASE = "generated-" + RULES;

  @Inject DemoLoader loader;
  @Inject Editor editor;
  @Inject WarmUp warmUp;

  /** From a key until the page has drawn what follows, watched in the page itself. */
  private static final String WATCH =
      """
      (() => {
        const when = {};
        window.taken = when;
        const done = () => {
          const said = document.querySelector('[aria-label="What happened"]').textContent;
          if (when.key && !when.acknowledged && window.expected(said))
            when.acknowledged = performance.now() - when.key;
        };
        new MutationObserver(done).observe(document.body,
          {subtree: true, childList: true, characterData: true});
        const ask = window.fetch;
        window.fetch = async (...args) => {
          const answer = await ask(...args);
          if (answer.url.endsWith('/edits'))
            when.kept ??= performance.now() - when.key;
          if (answer.url.includes('/review?since=')) {
            const told = answer.clone();
            await told.text();
            requestAnimationFrame(() => setTimeout(() => {
              if (when.key && !when.reviewed) when.reviewed = performance.now() - when.key;
            }));
          }
          return answer;
        };
        window.addEventListener('keydown', () => { when.key ??= performance.now(); }, true);
      })()
      """;

  /** Thirty edits of a rule far away, each with its review, as somebody else's page would ask. */
  private static final String WORK_FOR_A_WHILE =
      """
      async base => {
        const ask = async (path, body) => {
          const headers = {'Content-Type': 'application/json', 'Sieve-Editor': 'Otto'};
          const init = body && {method: 'POST', headers, body: JSON.stringify(body)};
          return (await fetch('/api/' + path, init)).json();
        };
        let revision = (await ask('rulebases')).find(one => one.id === base).revision;
        for (let i = 0; i < 30; i++) {
          const place = i % 2 ? {after: 'g6999'} : {before: 'g6999'};
          const steps = [{op: 'MOVE_RULE', id: 'g7000', place}];
          const made = await ask(`rulebases/${base}/edits`, {revision, what: 'moved a rule', steps});
          await ask(`rulebases/${base}/review?since=${revision}`);
          revision = made.revision;
        }
      }
      """;

  /** What a page is told of an edit, in bytes; the rulebase itself is several million. */
  private static final int LITTLE = 60_000;

  @Test
  void tenThousandRulesAreWorkedOnLikeForty() {
    loader.generate(RULES);
    // As a start with this rulebase does.
    editor.snapshot(BASE).review();
    warmUp.of(BASE);
    Page page = browsing.withOwnScripts().open("Wanda", "/?in=" + BASE + "&rule=g5025");
    assertThat(row(page, "g5025")).isVisible();
    assertThat(lens(page)).containsText("What is left of it");

    timesAreReported(page);
    worksByKeyboard(page);
    worksByMouse(page);
  }

  /** Of a server that has just been started, and of one that has been worked with for a while. */
  private static void timesAreReported(Page page) {
    edits(page, "after the start");
    scrolls(page);
    if (!Cases.isLong()) {
      return;
    }
    page.evaluate(WORK_FOR_A_WHILE, BASE);
    page.reload();
    assertThat(lens(page)).containsText("What is left of it");
    edits(page, "after a while");
  }

  private static void edits(Page page, String when) {
    List<Double> acknowledged = new ArrayList<>();
    List<Double> kept = new ArrayList<>();
    List<Double> reviewed = new ArrayList<>();
    page.evaluate("window.expected = () => false; performance.clearResourceTimings()");
    page.evaluate(WATCH);
    for (int i = 0; i < EDITS; i++) {
      String next = i % 2 == 0 ? "5025" : "5026";
      page.evaluate(
          "Object.assign(window.taken, {key: undefined, acknowledged: undefined, kept: undefined,"
              + " reviewed: undefined}); const shown = () => document.querySelector('#row-g5025"
              + " [aria-label^=\"move rule\"]').textContent; const before = shown();"
              + " window.expected = () => shown() !== before;");
      keys(page, i % 2 == 0 ? "Alt+ArrowUp" : "Alt+ArrowDown");
      assertThat(row(page, "g5025").getByLabel("move rule " + next)).isVisible();
      page.waitForFunction("window.taken.reviewed !== undefined");
      acknowledged.add(taken(page, "acknowledged"));
      kept.add(taken(page, "kept"));
      reviewed.add(taken(page, "reviewed"));
    }
    int most =
        ((Number)
                page.evaluate(
                    "Math.max(...performance.getEntriesByType('resource')"
                        + ".filter(one => /\\/edits$|review\\?since=/.test(one.name))"
                        + ".map(one => one.decodedBodySize))"))
            .intValue();
    assertThat(most).isBetween(1, LITTLE);
    report(when + " an edit is acknowledged", acknowledged);
    report(when + " it is kept", kept);
    report(when + " its review is shown", reviewed);
    // Whoever edits sees it done before the server has kept it, and that before it is reviewed.
    for (int i = 0; i < kept.size(); i++) {
      assertThat(acknowledged.get(i)).isPositive().isLessThanOrEqualTo(reviewed.get(i));
      assertThat(kept.get(i)).isPositive().isLessThanOrEqualTo(reviewed.get(i));
    }
  }

  private static double taken(Page page, String what) {
    return ((Number) page.evaluate("window.taken." + what + " ?? -1")).doubleValue();
  }

  private static void scrolls(Page page) {
    double frames =
        ((Number)
                page.evaluate(
                    "new Promise(done => { const list = document.getElementById('stack'); let drawn"
                        + " = 0; const start = performance.now(); const step = () => {"
                        + " list.scrollTop += 180; drawn++; if (performance.now() - start < 2000)"
                        + " requestAnimationFrame(step); else done(drawn / 2); };"
                        + " requestAnimationFrame(step); })"))
            .doubleValue();
    System.out.printf("[10,000 rules] frames a second while scrolling: %.0f%n", frames);
    assertThat(frames).isPositive();
    // Only what is on the screen is drawn, however fast it goes by.
    assertThat(page.locator("#stack [role=row]").count()).isBetween(10, 120);
    // Rows that rushed past without chips have them again at rest.
    assertThat(page.locator("#stack [id^=row-g]:not([data-rule])")).hasCount(0);
    assertThat(page.locator("#stack [data-rule]").first()).isVisible();
  }

  private static void worksByKeyboard(Page page) {
    keys(page, "End");
    assertThat(page.locator("[id='row-default verdict']")).isVisible();
    keys(page, "/");
    page.keyboard().type("match:10.20.4.7 verdict:deny");
    Locator shown = page.getByLabel("What is shown");
    assertThat(shown).containsText("left out");
    keys(page, "Home", "ArrowDown", "x");
    assertThat(said(page)).containsText("off");
    keys(page, "Control+z");
    assertThat(said(page)).containsText("undid");
    page.getByLabel("Show", new Page.GetByLabelOptions().setExact(true)).press("Escape");
  }

  /** From the depth map to a shadowed rule, its proof, its remedy, and back. */
  private static void worksByMouse(Page page) {
    assertThat(page.getByLabel("What is shown")).hasCount(0);
    page.getByLabel(Pattern.compile("^Depth map"))
        .click(new Locator.ClickOptions().setPosition(20, 500));
    assertThat(page.locator("[role=row][aria-selected=true]")).isVisible();
    button(page, "Filter").click();
    page.getByLabel("Show", new Page.GetByLabelOptions().setExact(true))
        .fill("finding:shadowed verdict:allow");
    Locator first = page.locator("[role=row][id^=row-g]").first();
    first.click();
    String rule = first.getAttribute("id");
    assertThat(lens(page)).containsText("This rule never matches");
    assertThat(page.getByText("left out here").first()).isVisible();
    // What catches the witness is brought into view when it falls, if it is shown by then.
    button(page, "Show all").click();
    lens(page).getByText("Try this witness").first().click();
    assertThat(page.locator("[data-standing=catch]")).isVisible();
    lens(page).getByText("Remedy: Remove it").click();
    assertThat(lens(page).getByText("No connection would get another verdict.")).isVisible();
    button(page, "Apply").click();
    assertThat(said(page)).containsText("remove it");
    assertThat(page.locator("#" + rule)).hasCount(0);
    button(page, "Undo").click();
    assertThat(said(page)).containsText("undid");
    page.getByLabel("Places").getByText("Traffic").click();
    assertThat(page.getByText("rules caught none.")).isVisible();
    button(page, "Where it falls").click();
    page.getByLabel("What fell where").getByRole(AriaRole.BUTTON).first().click();
    button(page, "Show the rule").click();
    assertThat(lens(page)).containsText("Recorded traffic, ");
  }

  private static void report(String what, List<Double> millis) {
    List<Double> sorted = new ArrayList<>(millis);
    Collections.sort(sorted);
    System.out.println(
        String.format(
            "[10,000 rules] %s: median %.0f ms, slowest %.0f ms",
            what, sorted.get(sorted.size() / 2), sorted.get(sorted.size() - 1)));
  }
}
