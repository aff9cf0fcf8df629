package ironsieve.server.jobs;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.awaitility.Awaitility.await;

import ironsieve.progress.Progress;
import java.time.Clock;
import java.time.Duration;
import java.util.Arrays;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What goes on, how long it may, and what it goes by. */
class JobsTest {

  private final Jobs jobs = new Jobs();

  @BeforeEach
  void start() {
    jobs.clock = Clock.systemUTC();
  }

  @AfterEach
  void stop() {
    jobs.stop(null);
  }

  @Test
  void whatTakesTooLongIsStoppedAndSaysSo() {
    Progress progress = new Progress();
    jobs.begin(
        Jobs.Kind.REQUEST,
        "",
        "counting sheep",
        "Wanda",
        progress,
        Optional.of(Duration.ofMillis(1)));
    await().until(progress::isStopped);
    assertThatThrownBy(progress::check).hasMessageContaining("took longer than");
    assertThat(Arrays.stream(Jobs.Kind.values()).filter(Jobs.Kind::canBeCancelled))
        .as("whatever can be stopped is, some time")
        .allMatch(kind -> kind.longest().orElseThrow().compareTo(Duration.ofDays(1)) <= 0);
  }

  @Test
  void whatHasEndedIsNotStoppedAfterwards() {
    Progress quick = new Progress();
    Progress slow = new Progress();
    long id =
        jobs.begin(
            Jobs.Kind.REQUEST, "", "quick", "Wanda", quick, Optional.of(Duration.ofMillis(200)));
    jobs.end(id);
    jobs.begin(Jobs.Kind.REQUEST, "", "slow", "Wanda", slow, Optional.of(Duration.ofMillis(400)));
    await().until(slow::isStopped);
    assertThat(quick.isStopped()).isFalse();
  }

  @Test
  void aNameIsOfWhoeverHadItFirstUntilItEnds() {
    Progress first = new Progress();
    long one = jobs.begin(Jobs.Kind.REQUEST, "mine", "first", "Wanda", first);
    long other = jobs.begin(Jobs.Kind.REQUEST, "mine", "second", "Piet", new Progress());
    assertThat(jobs.named("mine").orElseThrow().progress()).isSameAs(first);
    jobs.end(other);
    assertThat(jobs.named("mine")).isPresent();
    jobs.end(one);
    assertThat(jobs.named("mine")).isEmpty();
    assertThat(jobs.named("")).isEmpty();
    assertThat(jobs.running()).isEmpty();
  }
}
