package ironsieve.server.clock;

import jakarta.enterprise.inject.Produces;
import jakarta.inject.Singleton;
import java.time.Clock;
import java.time.Duration;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.util.Optional;
import org.eclipse.microprofile.config.inject.ConfigProperty;

/**
 * What time it is for everything that the server says of today and now: the system's, unless {@code
 * iron-sieve.started-at} names another to go on from, so that tests say the same on every day.
 */
class ServerClock {

  /** The only clock of the server, in the system's time zone. */
  @Produces
  @Singleton
  Clock clock(@ConfigProperty(name = "iron-sieve.started-at") Optional<LocalDateTime> startedAt) {
    ZoneId zone = ZoneId.systemDefault();
    return startedAt
        .map(start -> Duration.between(Clock.systemUTC().instant(), start.atZone(zone).toInstant()))
        .map(ahead -> Clock.offset(Clock.system(zone), ahead))
        .orElseGet(() -> Clock.system(zone));
  }
}
