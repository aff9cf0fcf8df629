package ironsieve.traffic.view;

import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Tape;
import ironsieve.model.Tape.Unsaid;
import java.util.Optional;
import java.util.Set;

/** Whether a recorded connection was recognised. */
public final class Recognition {

  /** What a record does not say. */
  public static final String NOT_SAID = "not said";

  /** The three answers to whether a connection was recognised. */
  public static final String RECOGNISED = "recognised";

  public static final String CARRIER_ONLY = "only its carrier";
  public static final String UNRECOGNISED = "not recognised";

  /** Protocols that others are inside of: who is recognised as one of them is hardly recognised. */
  private static final Set<String> CARRIERS = Set.of("TLS", "QUIC", "HTTP");

  private Recognition() {}

  /** Whether a connection was recognised. */
  public static String of(Tape.Line line) {
    return of(line.connection().using(), line.unsaid());
  }

  /** Whether an answer to that is that nobody knows what it is. */
  public static boolean isUnrecognised(String recognised) {
    return recognised.equals(UNRECOGNISED) || recognised.equals(CARRIER_ONLY);
  }

  /** Whether the use of a connection was recognised, of which so much is not said. */
  public static String of(ApplicationUse use, Set<Unsaid> unsaid) {
    if (unsaid.contains(Unsaid.APPLICATION)) {
      return NOT_SAID;
    }
    Optional<String> application = use.application();
    if (application.isEmpty()) {
      return UNRECOGNISED;
    }
    return CARRIERS.contains(application.get()) ? CARRIER_ONLY : RECOGNISED;
  }
}
