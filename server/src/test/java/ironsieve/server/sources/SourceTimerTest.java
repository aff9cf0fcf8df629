package ironsieve.server.sources;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.files.Documents.SourceDoc;
import ironsieve.server.sources.Brought.Mark;
import ironsieve.server.sources.SourceState.Resolved;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** When the time of a source has come. */
class SourceTimerTest {

  private static final Instant NOW = Instant.parse("2026-11-24T10:15:00Z");

  private static boolean isDue(
      String kind, int every, Instant lookedAt, Map<String, Resolved> names) {
    SourceDoc source = new SourceDoc("S", kind, "", "", every, "at once", 20, null, "", null);
    SourceState state =
        new SourceState(
            lookedAt, lookedAt, "", Mark.NONE, Map.of(), 0, null, "", List.of(), "", names);
    return SourceTimer.isDue(new Sources.Known(source, state), NOW);
  }

  @Test
  void asOftenAsItIsSetAndNeverWhereOnlySomebodyLooks() {
    assertThat(isDue("geofeed", 0, null, Map.of())).isFalse();
    assertThat(isDue("geofeed", 5, null, Map.of())).isTrue();
    assertThat(isDue("geofeed", 5, NOW.minusSeconds(299), Map.of())).isFalse();
    assertThat(isDue("geofeed", 5, NOW.minusSeconds(300), Map.of())).isTrue();
  }

  @Test
  void aNameIsAskedForAgainWhenItsTimeIsOver() {
    Map<String, Resolved> minute = Map.of("a.example", new Resolved(NOW.minusSeconds(60), 60, ""));
    Map<String, Resolved> hour = Map.of("a.example", new Resolved(NOW.minusSeconds(60), 3600, ""));
    assertThat(isDue("resolver", 1440, NOW.minusSeconds(60), minute)).isTrue();
    assertThat(isDue("resolver", 1440, NOW.minusSeconds(20), minute)).isFalse();
    assertThat(isDue("resolver", 1440, NOW.minusSeconds(60), hour)).isFalse();
    assertThat(isDue("geofeed", 1440, NOW.minusSeconds(60), minute)).isFalse();
  }
}
