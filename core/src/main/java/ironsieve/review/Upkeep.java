package ironsieve.review;

import ironsieve.model.Rule;
import ironsieve.model.RuleMetadata;
import ironsieve.review.Finding.Kind;
import ironsieve.review.Finding.Severity;
import java.time.LocalDate;
import java.util.List;

/** Whether what people wrote down about a rule is there and up to date. */
final class Upkeep {

  private Upkeep() {}

  /** What there is to say of a rule's note and of the day it was to be looked at again. */
  static void check(Rule rule, LocalDate today, List<Finding> found) {
    RuleMetadata metadata = rule.metadata();
    if (metadata.isOverdue(today)) {
      LocalDate day = metadata.reviewBy().orElseThrow();
      found.add(
          finding(Kind.OVERDUE, Severity.NOTE, rule, Sentences.overdue(metadata.owner(), day)));
    }
    if (rule.note().isBlank()) {
      found.add(finding(Kind.UNNOTED, Severity.QUIET, rule, Sentences.unnoted()));
    }
  }

  private static Finding finding(Kind kind, Severity severity, Rule rule, Message said) {
    return new Finding(kind, severity, rule.id(), said, List.of(), List.of());
  }
}
