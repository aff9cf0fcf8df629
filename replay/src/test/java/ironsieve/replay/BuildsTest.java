package ironsieve.replay;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatCode;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.InvalidClassException;
import java.util.Set;
import org.junit.jupiter.api.Test;

/** That a cluster of another release of the engine is refused in one sentence. */
class BuildsTest {

  private static final String HERE = "release 3.5.5 with Scala 2.13.8";

  @Test
  void aClusterOfTheSameReleaseIsTaken() {
    assertThatCode(() -> Builds.demandSame(Set.of(HERE), HERE)).doesNotThrowAnyException();
  }

  @Test
  void aClusterOfAnotherReleaseIsToldWhatRunsThereAndWhatShould() {
    assertThatThrownBy(() -> Builds.demandSame(Set.of("release 3.4.1 with Scala 2.12.17"), HERE))
        .isInstanceOf(IllegalArgumentException.class)
        .hasMessage(
            "the cluster runs release 3.4.1 with Scala 2.12.17, and this replay is made for "
                + HERE
                + "; nothing was sent. Give the cluster the engine's own jars of that release");
  }

  @Test
  void aClusterThatIsOnlyPartlyOfTheSameReleaseIsRefused() {
    assertThatThrownBy(
            () -> Builds.demandSame(Set.of(HERE, "release 3.5.4 with Scala 2.13.8"), HERE))
        .hasMessageContaining(
            "runs release 3.5.4 with Scala 2.13.8 and release 3.5.5 with Scala 2.13.8");
  }

  @Test
  void aClassThatIsAnotherOneThereIsKnownHoweverDeepItsCauseLies() {
    Throwable deep =
        new RuntimeException(
            "Job aborted",
            new IllegalStateException(
                new InvalidClassException("engine.Task", "local class incompatible")));
    assertThat(Builds.isOfAnotherBuild(deep)).isTrue();
    assertThat(Builds.isOfAnotherBuild(new NoSuchMethodError("engine.Task.run"))).isTrue();
    assertThat(Builds.isOfAnotherBuild(new java.net.ConnectException("refused"))).isFalse();
  }
}
