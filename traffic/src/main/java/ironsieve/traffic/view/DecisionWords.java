package ironsieve.traffic.view;

import ironsieve.recorded.RecordedDecisions;
import ironsieve.text.OutcomeText;
import java.util.Locale;
import java.util.stream.Collectors;

/** What a recorded decision is called where traffic is added up. */
public final class DecisionWords {

  /** The ids of rules cannot be this. */
  public static final String DEFAULT_VERDICT = "default verdict";

  /** Where several rules may have caught it. */
  public static final String DEPENDS = "it depends";

  /** Where there can be no such connection any more, or nobody decided it. */
  public static final String CANNOT_BE_RUN = "cannot be run";

  private DecisionWords() {}

  /** The verdict of a decision, or that it depends, or that there can be no such connection. */
  public static String verdict(RecordedDecisions.Decision decision) {
    return decision
        .verdict()
        .map(verdict -> verdict.name().toLowerCase(Locale.ROOT))
        .orElse(decision.rules().isEmpty() ? CANNOT_BE_RUN : DEPENDS);
  }

  /** What happens by a decision, lane and notice included; or one of the same. */
  public static String outcome(RecordedDecisions.Decision decision) {
    return decision.verdict().isEmpty()
        ? verdict(decision)
        : decision.outcomes().stream()
            .map(OutcomeText::print)
            .sorted()
            .collect(Collectors.joining(" or "));
  }

  /** The rule of a decision, or one of the same. */
  public static String rule(RecordedDecisions.Decision decision) {
    if (decision.rules().size() == 1) {
      return decision.rules().get(0).orElse(DEFAULT_VERDICT);
    }
    return decision.rules().isEmpty() ? CANNOT_BE_RUN : DEPENDS;
  }
}
