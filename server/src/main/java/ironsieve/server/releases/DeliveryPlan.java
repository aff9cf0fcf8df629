package ironsieve.server.releases;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * How a release gets to the gateways of a rulebase, some of them before others.
 *
 * @param waves the names of gateways that are told together, those that are told first first
 * @param minutes so long all told have to have it in force before the next wave is told
 * @param begins when the first wave is told; nothing for at once
 * @param told how many waves were told
 * @param settled since when all that were told have it in force; nothing while one has not
 * @param why it is held; else empty
 * @param who made it
 */
public record DeliveryPlan(
    String rulebase,
    int release,
    List<List<String>> waves,
    int minutes,
    Optional<Instant> begins,
    int told,
    Optional<Instant> settled,
    State state,
    String why,
    String who,
    Instant at) {

  /** How a plan goes. */
  public enum State {
    GOING,
    /** Somebody has it wait. */
    PAUSED,
    /** A gateway could not take it; it waits for somebody to say what follows. */
    HELD,
    /** Somebody has ended it before all were told, or another delivery took its place. */
    STOPPED,
    /** All gateways were told. */
    DONE;

    /** As it is said and written. */
    public String word() {
      return name().toLowerCase(java.util.Locale.ROOT);
    }
  }

  public DeliveryPlan {
    waves = waves.stream().map(List::copyOf).toList();
  }

  /** The gateways that were told. */
  List<String> toldGateways() {
    return waves.subList(0, told).stream().flatMap(List::stream).toList();
  }

  /** When the next wave is told; nothing while that is open. */
  public Optional<Instant> due() {
    return told == 0
        ? Optional.of(begins.orElse(at))
        : settled.map(since -> since.plus(Duration.ofMinutes(minutes)));
  }

  DeliveryPlan with(State next, String reason) {
    return new DeliveryPlan(
        rulebase, release, waves, minutes, begins, told, settled, next, reason, who, at);
  }

  DeliveryPlan settledAt(Optional<Instant> since) {
    return new DeliveryPlan(
        rulebase, release, waves, minutes, begins, told, since, state, why, who, at);
  }

  /** One wave more was told. */
  DeliveryPlan further() {
    return new DeliveryPlan(
        rulebase,
        release,
        waves,
        minutes,
        begins,
        told + 1,
        Optional.empty(),
        told + 1 == waves.size() ? State.DONE : state,
        why,
        who,
        at);
  }
}
