package ironsieve.server.browser;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static ironsieve.server.browser.Browsing.button;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.assertions.LocatorAssertions;
import com.microsoft.playwright.options.AriaRole;
import io.quarkus.test.junit.QuarkusTest;
import java.io.IOException;
import java.io.Writer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.util.Random;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A log of a million lines, and an edit that would have stopped some of what is on it. */
@QuarkusTest
class LargeTapeTest extends WithBrowser {

  private static final int LINES = 1_000_000;
  private static final LocatorAssertions.ContainsTextOptions PATIENT =
      new LocatorAssertions.ContainsTextOptions().setTimeout(120_000);

  /** A month of the offices; one line in a hundred is one person's files. */
  private static Path log(Path folder) throws IOException {
    Path log = folder.resolve("november.csv");
    Random random = new Random(11);
    LocalDateTime begin = LocalDateTime.of(2026, 11, 1, 0, 0);
    try (Writer out = Files.newBufferedWriter(log)) {
      out.write(
          "Start,Source,Login,Destination,Protocol,Port,Application,Connections,Bytes Sent,Bytes Received\n");
      for (int i = 0; i < LINES; i++) {
        boolean isFiles = i % 100 == 0;
        int minute = (int) ((long) i * 20 * 24 * 60 / LINES);
        out.write(begin.plusMinutes(minute) + (i % 60 < 10 ? ":0" : ":") + i % 60);
        out.write(isFiles ? ",10.20.12.40,ines.halloran" : ",10.20.12.");
        out.write(isFiles ? "" : 41 + random.nextInt(200) + ",unidentified");
        out.write(",203.0.113." + random.nextInt(250) + ",tcp,443,");
        out.write(isFiles ? "Fenwick Share," : "Chatterbay,");
        out.write(1 + random.nextInt(3) + ",");
        out.write(random.nextInt(5_000) + "," + random.nextInt(50_000) + "\n");
      }
    }
    return log;
  }

  @Test
  void whatAnEditWouldHaveStoppedIsSeenWhileItIsDraftedBesideAMillionLines(@TempDir Path folder)
      throws IOException {
    Page page = browsing.open("Wanda", "/traffic");
    TrafficTasksTest.load(page, log(folder));
    // The names of the columns say it all; whoever loads it sees that and reads on.
    Locator mapping =
        page.getByRole(
            AriaRole.FORM, new Page.GetByRoleOptions().setName("Columns of november.csv"));
    assertThat(mapping).isVisible();
    button(mapping, "Read it").click();
    Locator tape = TrafficTasksTest.region(page, "november");
    assertThat(tape).containsText("lines, 2026-11-01 to 2026-11-20", PATIENT);
    assertThat(tape).containsText("1000000 lines read");

    TrafficTasksTest.draftDeny(page, "Fenwick Share");
    Locator said =
        page.getByText(
            Pattern.compile(
                "[\\d,]{5,} recorded connections of \\d+ people would get another verdict"));
    assertThat(said).isVisible();
    button(page, "Cancel").click();

    // A week of it is enough: what would go is said before it goes.
    page.navigate(page.url().replaceFirst("/[^/]*$", "/traffic"));
    tape.getByText("Keep less of it").click();
    tape.getByLabel("Nothing of november before").fill("2026-11-14");
    assertThat(tape)
        .containsText(Pattern.compile("[\\d,]{7,} connections on 6[45]\\d,\\d{3} lines are older"));
    button(tape, "Take them off").click();
    assertThat(tape).containsText("lines, 2026-11-14 to 2026-11-20", PATIENT);
  }
}
