package ironsieve.gateway;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.gateway.Policy.Decision;
import ironsieve.model.Verdict;
import ironsieve.traffic.log.LoggedDecision;
import ironsieve.traffic.log.SyslogLine;
import ironsieve.traffic.tape.TrafficRecord;
import java.io.IOException;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;

/** What a gateway tells of its connections. */
class ConnectionLogTest {

  private static final LocalDateTime AT = LocalDateTime.of(2026, 12, 2, 10, 0);

  private static final Policy POLICY =
      Wire.policy(
          """
          rulebase "Main"
            default verdict reject

          chapter all "All"

          rule quiet "Quiet"
            to sites: quiet.example
            then: deny
            not logged
          """);

  private final BlockingQueue<String> taken = new LinkedBlockingQueue<>();

  private static Decision decision(String host) {
    Client ines = Wire.office("ines.halloran");
    Target target = new Target(host, 80);
    return POLICY.again(ines, target, POLICY.first(ines, target, AT).connection(), AT);
  }

  private String next() throws InterruptedException {
    return taken.poll(20, TimeUnit.SECONDS);
  }

  @Test
  void aLineTellsTheConnectionAndWhatWasDecidedOfIt() throws Exception {
    LocalDateTime before = LocalDateTime.now();
    try (ConnectionLog log = new ConnectionLog("quay", (lines, dropped) -> taken.addAll(lines))) {
      log.add(decision("other.example"), 49_152, 12, 34);
      log.add(decision("quiet.example"), 49_153, 1, 2);
      String line = next();
      TrafficRecord record = SyslogLine.parse(line, ZoneId.systemDefault());
      assertThat(record.at()).isEqualTo(AT);
      assertThat(record.what().host()).contains("other.example");
      assertThat(record.volume().down()).isEqualTo(34);
      LoggedDecision told = SyslogLine.decision(line, ZoneId.systemDefault()).orElseThrow();
      assertThat(told.verdict()).contains(Verdict.REJECT);
      assertThat(told.rule()).isEmpty();
      assertThat(told.release()).isEqualTo(1);
      assertThat(told.client()).isEqualTo(49_152);
      assertThat(told.probe().orElseThrow()).contains("as ines.halloran", "other.example");
      assertThat(told.at()).isAfterOrEqualTo(before);

      // Who or what it was is not told where the rule does not log it.
      String quiet = next();
      assertThat(quiet).doesNotContain("ines", "quiet.example", "10.20.");
      assertThat(SyslogLine.tellsConnection(quiet)).isFalse();
      LoggedDecision told2 = SyslogLine.decision(quiet, ZoneId.systemDefault()).orElseThrow();
      assertThat(told2.rule()).contains("quiet");
      assertThat(told2.verdict()).contains(Verdict.DENY);
      assertThat(told2.probe()).isEmpty();
    }
  }

  @Test
  void whatNobodyTookIsSentAgainInItsOrder() throws Exception {
    Semaphore failed = new Semaphore(0);
    List<Integer> sizes = new ArrayList<>();
    ConnectionLog.Taker taker =
        (lines, dropped) -> {
          sizes.add(lines.size());
          if (sizes.size() == 1) {
            failed.release();
            throw new IOException("away");
          }
          taken.addAll(lines);
        };
    try (ConnectionLog log = new ConnectionLog("quay", taker)) {
      log.add(decision("one.example"), 1, 0, 0);
      failed.acquire();
      log.add(decision("two.example"), 2, 0, 0);
      log.add(decision("three.example"), 3, 0, 0);
      assertThat(next()).contains("one.example");
      assertThat(next()).contains("two.example");
      assertThat(next()).contains("three.example");
    }
    assertThat(sizes).startsWith(1).hasSizeGreaterThan(1);
    assertThat(taken).isEmpty();
  }

  @Test
  void whatIsTooMuchToWaitIsDroppedTheOldestFirstAndCounted() throws Exception {
    Semaphore mayGo = new Semaphore(0);
    Semaphore began = new Semaphore(0);
    List<Long> told = new ArrayList<>();
    ConnectionLog.Taker taker =
        (lines, dropped) -> {
          began.release();
          mayGo.acquire();
          told.add(dropped);
          taken.addAll(lines);
        };
    try (ConnectionLog log = new ConnectionLog("quay", taker)) {
      Decision one = decision("one.example");
      log.add(one, 0, 0, 0);
      began.acquire();
      for (int client = 1; client <= 100_002; client++) {
        log.add(one, client, 0, 0);
      }
      assertThat(log.dropped()).isEqualTo(3);
      mayGo.release(1_000_000);
      for (int client : new int[] {0, 3, 4}) {
        String line = next();
        assertThat(SyslogLine.decision(line, ZoneId.systemDefault()).orElseThrow().client())
            .isEqualTo(client);
      }
    }
    assertThat(told.get(0)).isZero();
    assertThat(told.get(1)).isEqualTo(3);
  }
}
