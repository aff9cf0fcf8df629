package ironsieve.server.browser;

import com.microsoft.playwright.Browser;
import com.microsoft.playwright.BrowserContext;
import com.microsoft.playwright.BrowserType;
import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.Playwright;
import com.microsoft.playwright.assertions.PlaywrightAssertions;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;

/** Headless Chromium at 1280×800, and what a person sees and does on the pages. */
final class Browsing implements AutoCloseable {

  private static final List<String> ARGUMENTS =
      List.of(
          "--no-sandbox",
          "--disable-background-networking",
          "--disable-component-update",
          "--disable-sync",
          "--no-first-run");

  // Started once, for that takes as long as a short test; it ends with the tests.
  private static final Playwright PLAYWRIGHT = Playwright.create();
  private static final Browser BROWSER = launched();

  private static final Set<Browsing> OPEN = ConcurrentHashMap.newKeySet();

  private final List<BrowserContext> windows = new ArrayList<>();
  private final String address;

  /** A browser of its own, with some more arguments; the caller closes it. */
  static Browser launched(String... more) {
    List<String> arguments = new ArrayList<>(ARGUMENTS);
    arguments.addAll(List.of(more));
    return PLAYWRIGHT
        .chromium()
        .launch(
            new BrowserType.LaunchOptions()
                .setExecutablePath(Path.of("/usr/bin/chromium-headless-shell"))
                .setArgs(arguments));
  }

  Browsing(String address) {
    this.address = address;
    // Room for a slow machine; what is waited for is always a state, never a time.
    PlaywrightAssertions.setDefaultAssertionTimeout(45_000);
    OPEN.add(this);
  }

  /** What all pages that are open show, as text, for whoever wonders why a test failed. */
  static List<String> shown() {
    return OPEN.stream()
        .flatMap(browsing -> browsing.windows.stream())
        .flatMap(window -> window.pages().stream())
        .map(page -> page.url() + " shows:\n" + page.innerText("body"))
        .toList();
  }

  private boolean ownScripts;

  /** A window of its own, in which somebody with this name works. */
  Page window(String who, ColorScheme theme) {
    return window(who, new Browser.NewContextOptions().setColorScheme(theme));
  }

  /** The same screen magnified to twice the size: half as much fits, drawn twice as fine. */
  Page magnified(String who) {
    return window(
        who, new Browser.NewContextOptions().setDeviceScaleFactor(2).setScreenSize(640, 400));
  }

  /**
   * From here on the test may bring scripts of its own into new pages, which the server's policy
   * keeps out for everybody else.
   */
  Browsing withOwnScripts() {
    ownScripts = true;
    return this;
  }

  private Page window(String who, Browser.NewContextOptions options) {
    options.setBypassCSP(ownScripts);
    int scale = options.deviceScaleFactor == null ? 1 : 2;
    BrowserContext context = BROWSER.newContext(options.setViewportSize(1280 / scale, 800 / scale));
    windows.add(context);
    context.setDefaultTimeout(30_000);
    context.addInitScript("localStorage.setItem('editor', '" + who + "')");
    // Who knows the place has left the tour.
    context.addInitScript(
        "if (!location.search.includes('tour')) localStorage.setItem('tour', 'left')");
    return context.newPage();
  }

  /** What the person at the page was told last. */
  static Locator said(Page page) {
    return page.getByLabel("What happened");
  }

  /** Goes to another place by the bar at the top. */
  static void place(Page page, String name) {
    page.getByLabel("Places")
        .getByRole(AriaRole.LINK, new Locator.GetByRoleOptions().setName(name))
        .click();
  }

  /** Presses keys on the stack, one after the other. */
  static void keys(Page page, String... keys) {
    page.locator("#stack").focus();
    for (String key : keys) {
      page.keyboard().press(key);
    }
  }

  Page open(String who, String path) {
    Page page = window(who, ColorScheme.LIGHT);
    go(page, path);
    return page;
  }

  void go(Page page, String path) {
    page.navigate(address + path);
  }

  static Locator row(Page page, String rule) {
    return page.locator("#row-" + rule);
  }

  static Locator lens(Page page) {
    return page.getByRole(AriaRole.COMPLEMENTARY, new Page.GetByRoleOptions().setName("Lens"));
  }

  static Locator button(Page page, String name) {
    return page.getByRole(
        AriaRole.BUTTON, new Page.GetByRoleOptions().setName(name).setExact(true));
  }

  static Locator button(Locator within, String name) {
    return within.getByRole(
        AriaRole.BUTTON, new Locator.GetByRoleOptions().setName(name).setExact(true));
  }

  /** Keeps a picture where they are asked for: a refreshed one for the documentation. */
  static void picture(Page page, String name) {
    String folder = System.getenv("IRON_SIEVE_PICTURES");
    if (folder != null && Files.isDirectory(Path.of(folder))) {
      page.screenshot(new Page.ScreenshotOptions().setPath(Path.of(folder, name + ".png")));
    }
  }

  @Override
  public void close() {
    OPEN.remove(this);
    windows.forEach(BrowserContext::close);
  }
}
