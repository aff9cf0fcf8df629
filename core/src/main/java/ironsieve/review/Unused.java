package ironsieve.review;

import ironsieve.decide.Hits;
import ironsieve.review.Finding.Evidence;
import ironsieve.review.Finding.Kind;
import ironsieve.review.Finding.Severity;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** Rules that something can reach, but that nothing on the tapes fell on. */
final class Unused {

  // A month has seen what is done once a month.
  private static final long LONG_ENOUGH = 28;

  private Unused() {}

  /** By rule; none where no traffic was recorded. */
  static Map<String, Finding> findings(Hits hits, Map<String, Reviewed> rules) {
    Map<String, Finding> found = new HashMap<>();
    hits.period()
        .ifPresent(
            period -> {
              Severity severity = period.days() >= LONG_ENOUGH ? Severity.NOTE : Severity.QUIET;
              Said said = said(hits, period);
              rules.forEach(
                  (id, reviewed) -> {
                    if (!hits.has(id)) {
                      reviewed
                          .residue()
                          .witness()
                          .ifPresent(w -> found.put(id, finding(id, severity, said, w)));
                    }
                  });
            });
    return found;
  }

  private static Finding finding(String rule, Severity severity, Said said, Witness reaching) {
    Evidence evidence = new Evidence("", "", reaching);
    return new Finding(Kind.UNUSED, severity, rule, said, List.of(evidence), List.of());
  }

  private static Said said(Hits hits, Hits.Period period) {
    String sentence =
        String.format(
            Locale.ROOT,
            "Nothing was caught by this rule in %d %s of recorded traffic (%,d connections, %s to %s).",
            period.days(),
            period.days() == 1 ? "day" : "days",
            hits.times(),
            period.from().toLocalDate(),
            period.to().toLocalDate());
    return Said.text(sentence);
  }
}
